"""From what is known of a job to its one step: the trade's order, the engine's test inside a leg, and an end."""

from dataclasses import replace

import pytest

from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.diagnose.told_test import NextTest
from iron_probe.core.guide.drain_steps import DrainFacts
from iron_probe.core.guide.guide import Facts, guide
from iron_probe.core.guide.places import leg_of, still_state, whole_ways
from iron_probe.core.guide.route import ROUTES, Concern, Leg, Standing
from iron_probe.core.guide.step import Act, How, Why
from iron_probe.machines import load_sheet, sheet_ids

BUS = load_sheet("crew-minibus")
REST = Reading(red=BUS.plus, black=BUS.minus, state=still_state(BUS), value=12.6)
POSTS = Reading(red=BUS.plus, black=BUS.minus, state="crank", value=10.4)
FRESH = DrainFacts(
    latched=False, until=None, total=None, level=False, no_sleeper=False, probes=(), inner=(), culprits=(), closes=False, recorded=False
)
NEW = Facts(sheet=BUS, concern=Concern.STARTING, symptom="slow", readings=[])


def a_test(reading: Reading, again: int | None = None, closing: str | None = None) -> NextTest:
    return NextTest(
        reading=reading, bits=1.0, minutes=1.0, expected_good=0.0, by_suspect=(), why="tells much", again=again, closing=closing
    )


GROUND = a_test(Reading(red="block", black="bat.minus", state="crank", value=0.0))


def test_the_battery_comes_first_then_its_posts_under_load_then_what_the_engine_asks() -> None:
    first = guide(replace(NEW, tests=[GROUND]))
    assert (first.step.act, first.step.leg, first.step.why) == (Act.MEASURE, Leg.BATTERY, Why.SOURCE_FIRST)
    assert first.step.reading is not None and first.step.reading.state == still_state(BUS)
    second = guide(replace(NEW, tests=[GROUND], readings=[REST]))
    assert (second.step.leg, second.step.why) == (Leg.POSTS, Why.UNDER_LOAD)
    third = guide(replace(NEW, tests=[GROUND], readings=[REST, POSTS]))
    assert third.step.test == GROUND and third.step.reading == GROUND.reading and third.step.leg is Leg.GROUND


def test_a_battery_that_was_tested_on_its_card_is_not_asked_for_again() -> None:
    assert guide(replace(NEW, battery_tested=True)).step.leg is Leg.POSTS


def test_what_fits_nothing_is_taken_again_before_anything_is_built_on_it() -> None:
    doubted = a_test(POSTS, again=1)
    step = guide(replace(NEW, tests=[doubted], numbers=[7], readings=[POSTS])).step
    assert (step.test, step.again) == (doubted, 7)


def test_without_the_engine_the_whole_way_of_the_drop_work_is_asked_for() -> None:
    step = guide(replace(NEW, readings=[REST, POSTS], next_way=("bat.plus", "starter.B"))).step
    assert step.why is Why.WHOLE_WAY and step.reading is not None and step.reading.state == "crank" and step.leg is Leg.SUPPLY


def test_while_the_engine_is_worked_out_nothing_is_said_to_be_left() -> None:
    read = replace(NEW, concern=Concern.CHARGING, readings=[REST, POSTS], told="15.4 V: overcharge.", battery_tested=True)
    running = [replace(read, readings=[REST, Reading(red=BUS.plus, black=BUS.minus, state=s, value=15.4)]) for s in BUS.running_states()]
    for known in running:
        awaited, left = guide(replace(known, awaited=True)).step, guide(known).step
        assert (awaited.act, awaited.why) == (Act.LOOK, Why.AWAITED) and awaited.told == left.told == known.told
        assert left.why is Why.NOTHING_LEFT
        assert guide(replace(known, awaited=True, sound=True)).step.act is Act.CLOSE
    blows = replace(NEW, concern=Concern.FUSE, blows=("f1", "run"), told="Main fuse")
    assert guide(replace(blows, awaited=True)).step.told == ""  # a title is no sentence


def test_what_is_found_is_repaired_and_a_command_that_arrived_is_not_needed() -> None:
    found = guide(replace(NEW, readings=[REST, POSTS], at_fault=["strap-block"], how=How.BESIDE))
    assert (found.step.act, found.step.parts, found.step.how) == (Act.REPAIR, ("strap-block",), How.BESIDE)
    assert {s.leg: s.standing for s in found.route}[Leg.COMMAND] is Standing.NOT_NEEDED


def test_after_a_repair_the_same_probes_then_the_complaint_then_the_end() -> None:
    after = replace(NEW, repaired=True, owed=[("block", "bat.minus", "crank")], tests=[GROUND])
    owed = guide(after).step
    assert (owed.act, owed.owed) == (Act.RETEST, 1) and owed.reading is not None and owed.reading.red == "block"
    tried = guide(replace(after, owed=[], passed=True)).step
    assert tried.act is Act.TRY and tried.reading is not None and tried.reading.instrument is Instrument.EYES
    cranks = Reading(instrument=Instrument.EYES, state="crank", word="cranks")
    kept = guide(replace(after, owed=[], passed=True, readings=[cranks])).step
    assert (kept.act, kept.why, kept.reading) == (Act.MEASURE, Why.BASELINE, POSTS.model_copy(update={"value": 0.0}))
    done = guide(replace(after, owed=[], passed=True, readings=[cranks, POSTS]))
    assert (done.step.act, done.step.why) == (Act.CLOSE, Why.PASSED)
    assert {s.leg: s.standing for s in done.route}[Leg.RETEST] is Standing.DONE


@pytest.mark.parametrize("said", ["slow", "nothing"])
def test_what_is_still_there_after_a_repair_is_hunted_on(said: str) -> None:
    still = Reading(instrument=Instrument.EYES, state="crank", word=said)
    step = guide(replace(NEW, repaired=True, passed=True, readings=[still, REST, POSTS], tests=[GROUND])).step
    assert step.test == GROUND


def test_a_closed_job_was_retested_whatever_came_of_it_unless_something_is_still_owed() -> None:
    ended = replace(NEW, repaired=True, closed=True)
    for owed, standing in (([], Standing.DONE), ([("block", "bat.minus", "crank")], Standing.NOT_NEEDED)):
        legs = {s.leg: s.standing for s in guide(replace(ended, owed=owed)).route}
        assert legs[Leg.RETEST] is standing


def test_ends_are_said_by_their_kind() -> None:
    assert guide(replace(NEW, readings=[REST, POSTS], sound=True)).step.why is Why.NO_FAULT
    assert guide(replace(NEW, closed=True)).step.act is Act.CLOSED
    assert guide(replace(NEW, readings=[REST, POSTS])).step.act is Act.LOOK


def test_the_last_part_left_is_tried_before_a_hunt_is_given_up_but_only_once() -> None:
    known = replace(NEW, readings=[REST, POSTS], last_one="strap-block")
    step = guide(known).step
    assert (step.act, step.why, step.how, step.parts) == (Act.REPAIR, Why.LAST_ONE, How.TRIAL, ("strap-block",))
    assert guide(replace(known, tests=[GROUND])).step.test == GROUND  # while something still tells, it is read
    assert guide(replace(known, mended=["strap-block"])).step.act is Act.LOOK


def test_what_was_odd_once_is_read_again_before_a_machine_is_called_sound() -> None:
    known = replace(NEW, readings=[REST, POSTS], sound=True, odd_once=(2, POSTS))
    step = guide(known).step
    assert (step.act, step.why, step.reading, step.again) == (Act.MEASURE, Why.ODD_ONCE, POSTS, 2)
    assert guide(replace(known, odd_once=None)).step.act is Act.CLOSE
    assert guide(replace(known, sound=False, tests=[GROUND])).step.test == GROUND


def test_charging_begins_with_the_posts_at_rest_and_then_running() -> None:
    car = load_sheet("estate-car")
    new = Facts(sheet=car, concern=Concern.CHARGING, symptom="no_charge", readings=[])
    rest = Reading(red=car.plus, black=car.minus, state=still_state(car), value=12.4)
    assert guide(new).step.leg is Leg.BATTERY
    running = guide(replace(new, readings=[rest])).step
    assert running.leg is Leg.OUTPUT and running.reading is not None and car.states[running.reading.state].rpm
    assert leg_of(car, Concern.CHARGING, Reading(red=car.plus, black="alt.B", state="fast", value=0.1)) is Leg.WAYS
    assert leg_of(car, Concern.CHARGING, Reading(red="alt.L", black="alt.case", state="fast", value=0.1)) is Leg.WIRES


def test_a_drain_is_hunted_once_the_battery_is_read_and_the_machine_charges() -> None:
    bus = replace(NEW, concern=Concern.DRAIN, drain=FRESH)
    assert guide(bus).step.leg is Leg.BATTERY
    charging = guide(replace(bus, readings=[REST])).step
    assert (charging.leg, charging.why) == (Leg.OUTPUT, Why.CHARGES_FIRST)
    running = Reading(red=BUS.plus, black=BUS.minus, state="fast", value=14.2)
    assert guide(replace(bus, readings=[REST, running])).step.act is Act.LATCH
    assert guide(replace(bus, drain=replace(FRESH, level=True))).step.act is Act.LOOK  # what is there is not put off


def test_a_fuse_is_seen_to_blow_before_it_is_looked_for_and_must_hold_after_the_repair() -> None:
    fuse = replace(NEW, concern=Concern.FUSE)
    assert guide(fuse).step.act is Act.FEEDS
    seen = replace(fuse, blows=("f1", "lamps"), tests=[GROUND])
    step = guide(seen)
    assert (step.step.test, step.step.leg) == (GROUND, Leg.HALVES)
    assert {s.leg: s.standing for s in step.route}[Leg.FEEDS] is Standing.DONE
    mended = guide(replace(seen, repaired=True, passed=True)).step
    assert mended.act is Act.TRY and mended.reading is not None and mended.reading.instrument is Instrument.NEW_FUSE
    held = [Reading(instrument=Instrument.NEW_FUSE, branch="f1", state="lamps", word=w) for w in ("holds", "blows")]
    assert guide(replace(seen, repaired=True, passed=True, readings=held[:1])).step.act is Act.CLOSE
    assert guide(replace(seen, repaired=True, passed=True, readings=held)).step.test == GROUND


def test_ways_are_read_whole_before_the_engine_chooses_inside_them() -> None:
    known = replace(NEW, ways_first=True, tests=[GROUND], readings=[REST, POSTS])
    ways = whole_ways(BUS)
    supply = guide(known).step
    assert (supply.leg, supply.why, supply.reading) == (Leg.SUPPLY, Why.WHOLE_WAY, ways[Leg.SUPPLY])
    assert guide(replace(known, readings=[REST, POSTS, ways[Leg.SUPPLY]])).step.leg is Leg.GROUND
    both = [REST, POSTS, ways[Leg.SUPPLY], ways[Leg.GROUND]]
    assert guide(replace(known, readings=both)).step.test == GROUND
    assert guide(replace(known, symptom="nothing")).step.leg is Leg.COMMAND
    own = a_test(POSTS, closing="battery")
    assert guide(replace(known, tests=[own])).step.test == own


def test_what_is_found_again_after_its_repair_is_said_to_be_so() -> None:
    found = replace(NEW, readings=[REST, POSTS], at_fault=["strap-block"], repaired=True, mended=["strap-block", "starter"])
    assert guide(found).step.why is Why.FOUND_AGAIN
    assert guide(replace(found, mended=["starter"])).step.why is Why.FOUND


def test_a_battery_that_was_charged_or_renewed_is_seen_to_be_charged_before_the_job_is_closed() -> None:
    cranks = Reading(instrument=Instrument.EYES, state="crank", word="cranks")
    mended = replace(NEW, repaired=True, passed=True, charged=True, readings=[REST, POSTS, cranks])
    asked = guide(mended).step
    assert (asked.why, asked.leg) == (Why.WHY_FLAT, Leg.RETEST) and asked.reading is not None and BUS.states[asked.reading.state].rpm
    assert guide(replace(mended, readings=[*mended.readings, asked.reading])).step.why is Why.PASSED
    assert guide(replace(mended, charged=False)).step.why is Why.PASSED


@pytest.mark.parametrize(("scope", "concern"), [(Scope.STARTING, Concern.STARTING), (Scope.CHARGING, Concern.CHARGING)])
def test_every_place_of_every_sheet_lies_on_a_leg_of_its_route(scope: Scope, concern: Concern) -> None:
    for sheet in map(load_sheet, sheet_ids()):
        ends = {frozenset((b.start, b.end)) for e in sheet.elements for b in e.branches()}
        for red, black in [*((p, sheet.minus) for p in sheet.points if p != sheet.minus), *(sorted(e) for e in ends if len(e) == 2)]:
            legs = {leg_of(sheet, concern, Reading(red=red, black=black, state=s, value=0.0)) for s in states_of(sheet, scope)}
            assert legs <= set(ROUTES[concern]), (sheet.id, red, black)
