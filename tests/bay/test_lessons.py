"""Lessons: in rising order, each solved as it is set, each with a case that hides the like."""

import pytest

from iron_probe.bay.case import draw_case
from iron_probe.bay.lessons import Lesson, lesson_named, lessons, notches_of, shown
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet
from iron_probe.rig.spice import Spice


def set_to(lesson: Lesson, notches: list[int], state: str = "", red: str = "", black: str = ""):  # type: ignore[no-untyped-def]
    return shown(lesson, state or lesson.states[0], notches, red or lesson.path[0], black or lesson.path[-1])


def test_there_are_eight_and_each_names_what_its_circuit_has() -> None:
    assert len(lessons()) == 8 and len({one.id for one in lessons()}) == 8
    for one in lessons():
        sheet = load_sheet(one.sheet)
        assert {*one.path, *one.also} <= set(sheet.points) and set(one.states) <= set(sheet.states)
        assert all(notches_of(one, k) for k in one.knobs)


@pytest.mark.parametrize("lesson", lessons(), ids=lambda one: one.id)
def test_its_worst_is_seen_in_some_state_and_sound_is_sound(lesson: Lesson) -> None:
    sound, worst = [0] * len(lesson.knobs), [len(notches_of(lesson, k)) for k in lesson.knobs]
    differs = False
    for state in lesson.states:
        as_it_is = set_to(lesson, sound, state)
        assert as_it_is.volts == as_it_is.sound_v
        broken = set_to(lesson, worst, state)
        differs |= any(
            (v is None) != (w is None) or (v is not None and w is not None and abs(v - w) > 0.2)
            for v, w in zip(broken.volts.values(), broken.sound_v.values(), strict=True)
        ) or any(abs(a - b) > 0.2 for a, b in zip(broken.amps.values(), as_it_is.amps.values(), strict=True))
    assert differs


def test_an_open_ground_puts_all_volts_across_itself() -> None:
    lesson = lesson_named("difference")
    across = set_to(lesson, [1, 0], "lamps", "lamps.ground", "chassis.front").meter_v
    assert across is not None and across > 12
    over_lamp = set_to(lesson, [1, 0], "lamps", "lamps.feed", "lamps.ground").meter_v
    assert over_lamp is not None and abs(over_lamp) < 0.1


def test_there_and_back_close_the_sum() -> None:
    lesson = lesson_named("both_ways")
    there, load, back, posts = (
        set_to(lesson, [3, 3], "crank", red, black).meter_v
        for red, black in (
            ("bat.plus", "starter.M"),
            ("starter.M", "starter.case"),
            ("starter.case", "bat.minus"),
            ("bat.plus", "bat.minus"),
        )
    )
    assert there and load and back and posts and there + load + back == pytest.approx(posts)


def test_each_knob_turned_further_loses_more() -> None:
    lesson = lesson_named("load")
    drops = [set_to(lesson, [n], "crank", "starter.lug", "starter.B").meter_v for n in range(1, 4)]
    assert drops == sorted(drops)
    assert set_to(lesson, [3], "rest", "starter.lug", "starter.B").meter_v == pytest.approx(0, abs=1e-6)


@pytest.mark.parametrize(("state", "notches"), [("afloat", [0]), ("rest", []), ("rest", [99]), ("rest", [-1])])
def test_what_it_has_not_is_refused(state: str, notches: list[int]) -> None:
    with pytest.raises(ReadingError):
        set_to(lesson_named("load"), notches, state)
    with pytest.raises(ReadingError, match="There is no lesson"):
        lesson_named("juggling")


@pytest.mark.parametrize("lesson", lessons(), ids=lambda one: one.id)
def test_its_case_is_there_and_is_drawn_alike_each_time(lesson: Lesson, spice: Spice) -> None:
    case = draw_case(lesson.task.sheet, lesson.task.level, lesson.task.number, spice)
    assert case is not None and case.faults and case.symptom
