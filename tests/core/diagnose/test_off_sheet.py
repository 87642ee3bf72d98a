"""What the drawing lacks: beside a part, or anywhere."""

import numpy as np
import pytest

from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import QUIET_SHARE, Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading, check_reading
from iron_probe.core.diagnose.fault_mode import on_itself
from iron_probe.core.diagnose.off_sheet import lying_anywhere
from iron_probe.core.diagnose.places import places_of
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
