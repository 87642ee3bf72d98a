"""What the drawing lacks: beside a part, or anywhere."""

import numpy as np
import pytest

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import QUIET_SHARE, Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading, check_reading
from iron_probe.core.diagnose.fault_mode import on_itself
from iron_probe.core.diagnose.next_test import next_tests
from iron_probe.core.diagnose.off_sheet import lying_anywhere
from iron_probe.core.diagnose.places import places_of
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet
from tests.core.diagnose.mower import Hidden, heard, volts


def test_only_ways_of_conductors_have_something_beside_them() -> None:
    network = network_of(load_sheet("green-mower"))
    assert on_itself(network, "frame-bolt", "high_resistance") and on_itself(network, "key-feed", "open")
    assert not on_itself(network, "key-feed", "shorted")
    assert not on_itself(network, "f1", "open")  # a fuse is probed on its own nibs
    assert not on_itself(network, "battery", "worn")


def test_volts_with_a_branch_are_on_the_part_and_between_its_own_ends_alone() -> None:
    network = network_of(load_sheet("green-mower"))
    red, black = network.sheet.element("frame-bolt").points()
    itself = Reading(red=red, black=black, branch="frame-bolt", state="crank", value=0.9)
    check_reading(itself, network)
    assert itself.itself == "frame-bolt" and itself.model_copy(update={"branch": None}).itself is None
    assert Reading(instrument=Instrument.CLAMP, branch="frame-bolt", state="crank", value=90.0).itself is None
    with pytest.raises(ReadingError, match="between its own two ends"):
        check_reading(itself.model_copy(update={"red": "bat.plus"}), network)


def test_shares_of_all_that_may_be_add_up_to_one(case: Case, bolt: Hidden) -> None:
    for readings in ([], [heard("slow")], [heard("slow"), bolt.volts("frame", "frame.eye")]):
        left = case.posterior(readings)
        named = sum(s.p for s in left.suspects) + sum(p for _, p in left.beside)
        assert 0.93 < named + left.no_fault + left.off_sheet <= 1 + 1e-9  # what is struck out holds the rest


def test_a_fault_lying_anywhere_is_one_nobody_hears_until_something_is_heard(ensemble: Ensemble, case: Case) -> None:
    def found(*readings: Reading) -> float:
        places = places_of(readings)
        return lying_anywhere(ensemble, places, [case._held(p) for p in places])

    assert found() == pytest.approx(np.log(QUIET_SHARE))
    assert found(heard("slow")) > found(heard("cranks")) + 1
    odd = volts("block", "frame", 5.0)
    assert found(heard("slow"), odd) > found(heard("slow")) - np.log(2 * 1.1 * 12) - 0.1  # anything, in half of all readings


def test_a_wire_sound_by_itself_leaves_a_way_to_ground_beside_it(ensemble: Ensemble) -> None:
    """Fuse out, its wires read one by one: what is no wire's own may still lie at one's end, where the drawing shows nothing."""
    assert {"shorted", "open"} <= {ensemble.hypotheses[k].modes[0].name for k in ensemble.also_beside}
    case = Case(ensemble, absent=("f1", "solenoid", "fuel-solenoid", "hour-meter", "key-feed", "fuel-wire", "hour-wire"))
    blown = [heard("nothing"), volts("f1.out", "bat.minus", 0.0), volts("sol.in", "bat.minus", 12.6)]
    alone = Reading(instrument=Instrument.BARE_OHM, branch="coil-wire", state="rest", value=20e6, bound=Bound.AT_LEAST)
    before, after = case.posterior(blown), case.posterior([*blown, alone, alone])
    assert before.share("coil-wire") > 20 * dict(before.grounded)["coil-wire"]
    assert after.share("coil-wire") < dict(after.grounded)["coil-wire"] <= after.off_sheet
    assert after.grounded[0][0] == "coil-wire"
    assert after.rests_on == 2  # the dead fuse output: read once, it may be a slip
    asked = next_tests(case, TestBook(ensemble), after, [*blown, alone, alone])[0]
    assert (asked.again, asked.reading.red) == (2, "f1.out")
    twice = case.posterior([*blown, alone, alone, blown[1]])
    assert twice.rests_on is None
    assert twice.off_sheet > 0.9
    assert not twice.settled


def test_what_lies_beside_lets_a_sound_part_carry_what_then_flows(case: Case, bolt: Hidden) -> None:
    """Behind a bad joint little current flows, so the sound part beside it drops less than on a sound machine."""
    around = [heard("slow"), bolt.volts("block", "frame"), bolt.volts("frame.eye", "bat.minus"), bolt.volts("frame", "frame.eye")]
    good_v = 0.02
    little, much = (
        case.posterior([*around, volts("frame", "frame.eye", v, branch="frame-bolt"), volts("frame", "frame.eye", v, branch="frame-bolt")])
        for v in (0.5 * good_v, 8 * good_v)
    )
    assert dict(little.beside)["frame-bolt"] > dict(much.beside).get("frame-bolt", 0.0)


def test_beside_what_is_only_assumed_something_undrawn_is_likelier() -> None:
    mower = load_sheet("green-mower")
    elements = [e.model_copy(update={"assumed": e.id == "engine-mount"}) for e in mower.elements]
    readings = [heard("slow"), volts("block", "frame", 0.9, state="crank")]
    said, guessed = (Case(Ensemble(sheet)).posterior(readings) for sheet in (mower, mower.changed(elements=elements)))
    assert dict(guessed.beside)["engine-mount"] > 1.6 * dict(said.beside)["engine-mount"]
