"""Figures and readings in the words of the trade."""

import pytest

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.web import guide_words, words


@pytest.mark.parametrize(
    ("said", "is_"),
    [
        (words.percent(0.999), ">99 %"), (words.percent(0.001), "<1 %"), (words.percent(0.0), "0 %"), (words.percent(0.5), "50 %"),
        (words.volts(None), "–"),
    ],
)  # fmt: skip
def test_ends_are_kept_honest_and_nothing_is_a_dash(said: str, is_: str) -> None:
    assert said == is_


def test_small_volts_are_millivolts() -> None:
    assert words.volts(0.012).startswith("12") and "mV" in words.volts(0.012)
    assert words.volts(-12.5) == "-12.50 V"


def test_a_reading_names_its_place_and_what_the_sheet_no_longer_has_by_its_id(minibus: Sheet) -> None:
    here = Reading(red=minibus.plus, black=minibus.minus, state="crank", value=10.0)
    title = minibus.points[minibus.plus].title
    assert words.place(here, minibus).startswith(title)
    assert words.place(here.model_copy(update={"red": "gone.point"}), minibus).startswith("gone.point")
    assert words.state_title("gone", minibus) == "gone" and words.element_title("gone", minibus) == "gone"
    clamp = Reading(instrument=Instrument.CLAMP, branch=minibus.batteries[0].id, state="crank", value=200.0)
    assert words.place(clamp, minibus).startswith("clamp on")


def test_long_titles_break_between_words() -> None:
    lines = words.label_lines("Left front headlamp ground", width=12)
    assert all(len(line) <= 14 for line in lines) and " ".join(lines).split()[0] == "Left"


def test_many_readings_are_named_by_the_newest() -> None:
    assert words.listed([1, 2], [0, 7]) == "at intake, 7"
    assert words.listed(range(1, 21), list(range(1, 21))) == "13, 14, 15, 16, 17, 18, 19, 20 and 12 before them"


def test_what_to_do_for_a_reading_is_one_sentence(minibus: Sheet) -> None:
    fuse = next(e for e in minibus.elements if e.type == "fuse")
    lamp = Reading(instrument=Instrument.LAMP_LARGE, red=fuse.points()[0], black=fuse.points()[1], state="crank", word="off")
    assert guide_words.ask_for(lamp, minibus).startswith("A 4 A lamp from ")
    load = Reading(instrument=Instrument.LOAD, red=minibus.plus, black=minibus.minus, state="rest", value=0.0)
    assert guide_words.ask_for(load, minibus).startswith("Load tester across ") and "fifteen seconds" in guide_words.ask_for(load, minibus)
    wire = next(e for e in minibus.elements if e.type == "wire")
    itself = Reading(red=wire.points()[0], black=wire.points()[1], branch=wire.id, state="crank", value=0.1)
    assert guide_words.ask_for(itself, minibus).startswith(f"Both probes on the {wire.title.lower()} itself")
    assert words.place(itself, minibus) == f"on the {wire.title.lower()} itself"
    bare = Reading(instrument=Instrument.BARE_OHM, branch=wire.id, state="rest", value=0.0)
    assert wire.title.lower() in guide_words.ask_for(bare, minibus) and "both ends" in guide_words.ask_for(bare, minibus)
    assert words.code_shown(2.0, Instrument.LAMP_LARGE) == "bright"
    assert "Ω" in words.code_shown(4.0, Instrument.PART_OHM)


def test_what_was_not_as_drawn_and_what_a_module_or_a_fuse_did_is_said(minibus: Sheet) -> None:
    part, points = minibus.elements[4], list(minibus.points)[:2]
    plain = Reading(red=minibus.plus, black=minibus.minus, state="crank", value=10.0)
    assert words.done_to(plain, minibus) == ""
    said = words.done_to(plain.model_copy(update={"aided": "charger", "parted": part.id, "jumpered": tuple(points)}), minibus)
    assert said.startswith("a charger on the posts, ") and part.title.lower() in said and minibus.points[points[0]].title in said
    new = Reading(instrument=Instrument.NEW_FUSE, branch="f1", state="crank", word="holds")
    assert "of its own rating, once" in guide_words.ask_for(new, minibus) and words.code_shown(0.0, Instrument.NEW_FUSE) == "blows"
    assert words.code_shown(1.0, Instrument.ANSWERS) == "answers" and words.code_shown(0.0, Instrument.FIELD_OFF) == "stops"


def test_minutes_are_said_as_people_say_them() -> None:
    assert [words.minutes(m) for m in (0, 20, 60, 95.4)] == ["0 min", "20 min", "1 h", "1 h 35 min"]
