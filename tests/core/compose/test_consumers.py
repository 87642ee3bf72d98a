"""Consumers of a composed machine."""

from iron_probe.blocks import pattern_book
from iron_probe.core.compose.compose import compose

BOOK = pattern_book()


def test_two_of_one_name_are_told_apart() -> None:
    sheet = compose(BOOK, {"kind": "car", "feeds": "F1, Horn\nF2, Horn", "sleeps": ""}).sheet
    assert [p.title for p in sheet.points.values() if p.title.startswith("Horn")] == [
        "Horn fuse output",
        "Horn feed",
        "Horn 2 fuse output",
        "Horn 2 feed",
    ]


def test_heavy_ones_have_a_ground_point_of_their_own() -> None:
    sheet = compose(BOOK, {"kind": "car", "feeds": "F1, Fan, 200 W\nF2, Lamp, 20 W", "sleeps": ""}).sheet
    assert sheet.element("c1-load").end == "c1.ground" and sheet.element("c2-load").end == "body"  # type: ignore[union-attr]


def test_one_switch_may_switch_several() -> None:
    sheet = compose(BOOK, {"kind": "car", "feeds": "F1, Left lamp, by lamps\nF2, Right lamp, by lamps", "sleeps": ""}).sheet
    assert [s for s in sheet.states if s.startswith("on-")] == ["on-lamps"]
    assert sheet.element("c1-switch").closed_in == sheet.element("c2-switch").closed_in == {"lamps": ["on"]}  # type: ignore[union-attr]


def test_cranking_and_running_under_load_are_states_of_it() -> None:
    sheet = compose(BOOK, {"kind": "car", "feeds": "F1, Headlamps, 110 W, switch", "agree": ["clutch"]}).sheet
    assert (
        sheet.states["crank-on"].set == {"key": "crank", "clutch": "pressed", "headlamps-switch": "on"}
        and sheet.states["crank-on"].cranking
    )
    assert sheet.states["loaded"].rpm == sheet.states["fast"].rpm


def test_what_sleeps_draws_so_much_asleep() -> None:
    module = compose(BOOK, {"kind": "car", "feeds": "", "sleeps": "Alarm, 8 mA"}).sheet.element("c1-module")
    assert module.asleep_a == 0.008 and module.awake_in == {"key": ["run", "crank"]}  # type: ignore[union-attr]
