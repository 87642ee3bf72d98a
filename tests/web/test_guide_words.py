"""The route and the step in words: every value has them."""

import pytest

from iron_probe.core.bench.drain.currents import Way
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.told_test import NextTest
from iron_probe.core.guide.route import Leg, Standing
from iron_probe.core.guide.step import Act, How, Why
from iron_probe.core.job.lines import Ending
from iron_probe.core.job.step import JobStep, ProbeAsked, asked_of
from iron_probe.machines import load_sheet
from iron_probe.web import guide_words

BUS = load_sheet("crew-minibus")
READ = (Act.MEASURE, Act.RETEST, Act.TRY)


def test_every_leg_and_standing_has_its_words() -> None:
    assert set(guide_words.LEG) == set(Leg) and set(guide_words.STANDING) == set(Standing)


def told_test(why: str, bits: float = 0.0, closing: str | None = None) -> NextTest:
    reading = Reading(red="a", black="b", state="crank", value=0.0)
    return NextTest(reading=reading, bits=bits, minutes=2.9, expected_good=0.0, by_suspect=(), why=why, closing=closing)


@pytest.mark.parametrize("act", list(Act))
def test_every_act_is_a_sentence(act: Act) -> None:
    asked = asked_of(Reading(red=BUS.plus, black=BUS.minus, state="crank", value=0.0), BUS) if act in READ else None
    probe = ProbeAsked(way=Way.DROP, title="Fuse F3") if act is Act.PROBE else None
    said = guide_words.step(JobStep(act=act, leg=Leg.PART, why=Why.PASSED, named=("Isolator",), asked=asked, probe=probe))
    assert said[0].isupper() and said[-1] == "."


def test_a_step_says_where_and_in_which_state_and_what_is_owed() -> None:
    asked = asked_of(Reading(red=BUS.plus, black="gone.point", state="crank", value=0.0), BUS)
    said = guide_words.step(JobStep(act=Act.RETEST, leg=Leg.RETEST, asked=asked, owed=2))
    assert said.startswith("Retest, 2 readings owed. Measure battery plus post to gone.point") and "crank" in said
    look = asked_of(Reading(instrument=Instrument.EYES, state="crank", word="slow"), BUS)
    assert guide_words.step(JobStep(act=Act.TRY, leg=Leg.RETEST, asked=look)).startswith("Try it")


@pytest.mark.parametrize(
    ("how", "part"),
    [
        (How.PART, "found by its own test"),
        (How.BESIDE, "to its ends"),
        (How.WAY, "all of it"),
        (How.FED, "past the drawing"),
        (How.SHARE, "over its share"),
        (How.CHARGE, "charge it at its own rate"),
        (How.DRAWS, "read the total again"),
    ],
)
def test_what_was_found_is_said_by_how_it_was_found(how: How, part: str) -> None:
    assert part in guide_words.step(JobStep(act=Act.REPAIR, leg=Leg.REPAIR, named=("Isolator",), how=how))


def test_what_is_found_again_is_not_simply_to_be_repaired_again() -> None:
    again = JobStep(act=Act.REPAIR, leg=Leg.REPAIR, named=("Isolator",), how=How.PART, why=Why.FOUND_AGAIN)
    assert "what is joined to it" in guide_words.step(again)


def test_what_is_tried_is_not_called_proven_and_what_is_moved_by_hand_says_to_mind_it() -> None:
    tried = guide_words.step(JobStep(act=Act.REPAIR, leg=Leg.REPAIR, named=("Fuel pump",), how=How.TRIAL, why=Why.LAST_ONE))
    assert "only the fuel pump" in tried and "unproven" in tried and "retest" in tried
    asked = asked_of(Reading(red=BUS.plus, black=BUS.minus, state="crank", value=0.0), BUS)
    again = guide_words.step(JobStep(act=Act.MEASURE, why=Why.ODD_ONCE, asked=asked, again=4))
    assert again.startswith("Reading 4 again, while ") and "hands off what turns" in again


def test_a_log_that_cannot_be_judged_says_so_and_a_test_brings_its_own_reason() -> None:
    assert "cannot be judged" in guide_words.step(JobStep())
    assert guide_words.why(JobStep(act=Act.MEASURE, why=Why.SOURCE_FIRST)) == "a weak battery makes every later figure lie"
    asked = JobStep(act=Act.MEASURE, why=Why.TELLS_MOST)
    assert guide_words.why(asked, told_test("its own test", bits=1.0, closing="isolator")) == "its own test"
    assert guide_words.why(asked, told_test("in bits", bits=1.0)) == "of all that can be read here, it tells most for its 3 min"
    assert guide_words.why(asked, told_test("in bits", bits=1.0), "source").startswith("the source first")


def test_a_reading_taken_once_more_is_named_by_the_number_it_has_in_the_log() -> None:
    asked = asked_of(Reading(red=BUS.plus, black=BUS.minus, state="crank", value=0.0), BUS)
    seventh, heard = (JobStep(act=Act.MEASURE, why=Why.TELLS_MOST, asked=asked, again=n) for n in (7, 0))
    assert guide_words.step(seventh).startswith("Reading 7 again, at a clean contact. Measure ")
    assert guide_words.why(seventh, told_test("fits nothing that is left")) == "reading 7 fits nothing that is left"
    assert guide_words.step(heard).startswith("Once more. ")
    assert guide_words.why(heard, told_test("fits nothing that is left")) == "what intake heard fits nothing that is left"


def test_a_report_without_a_proven_part_does_not_say_that_it_is_still_to_be_proven_when_the_job_has_ended() -> None:
    assert guide_words.unproven(JobStep(act=Act.LOOK, leg=Leg.PART)).startswith("Not proven yet. ")
    passed = guide_words.unproven(JobStep(act=Act.CLOSE, leg=Leg.CLOSE, why=Why.PASSED))
    closed = guide_words.unproven(JobStep(act=Act.CLOSED, leg=Leg.CLOSE, why=Why.ENDED))
    assert "yet" not in passed + closed and "reads well" in passed


@pytest.mark.parametrize(
    ("act", "why", "ending"),
    [
        (Act.CLOSE, Why.PASSED, Ending.REPAIRED),
        (Act.CLOSE, Why.NO_FAULT, Ending.NO_FAULT),
        (Act.CLOSE, Why.NOT_REPRODUCED, Ending.NOT_REPRODUCED),
        (Act.LOOK, Why.NOTHING_LEFT, Ending.UNPROVEN),
    ],
)
def test_a_job_is_closed_as_what_its_step_says_and_every_ending_has_its_words(act: Act, why: Why, ending: Ending) -> None:
    assert guide_words.ending_of(JobStep(act=act, why=why)) is ending
    assert set(guide_words.ENDING) == set(Ending)
