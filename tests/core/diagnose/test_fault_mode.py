"""One fault mode: its severities, and what it changes."""

import numpy as np
import pytest

from iron_probe.core.circuit.faults import Change
from iron_probe.core.diagnose.fault_mode import Effect, FaultMode

JOINT = FaultMode(element="joint", name="high_resistance", effects=(Effect(0, Change.ADD),), weight=1.0, least=0.01, most=1.0)
TURNS = FaultMode(element="coil", name="coil_shorted", effects=(Effect(1, Change.SCALE),), weight=1.0, least=0.003, most=0.02)
OPEN = FaultMode(element="joint", name="open", effects=(Effect(0, Change.SET, 1e9, 0.0),), weight=1.0)
NOMINAL = np.array([0.001, 80.0])


def test_machines_with_a_fault_put_in_differ_by_it_alone() -> None:
    machines = JOINT.put_in(NOMINAL, np.array([0.0, 0.5, 1.0]))
    assert machines[0] == pytest.approx([0.011, 0.101, 1.001])
    assert (machines[1] == 80.0).all() and NOMINAL.tolist() == [0.001, 80.0]


def test_a_fixed_fault_is_the_same_at_every_share() -> None:
    assert not OPEN.graded
    assert OPEN.put_in(NOMINAL, np.array([0.0, 1.0]))[0] == pytest.approx([1e9, 1e9])


def test_the_worst_of_what_shrinks_is_its_least() -> None:
    def changed(mode: FaultMode, share: float) -> float:
        return float(np.abs(np.log(mode.put_in(NOMINAL, np.array([share]))[:, 0] / NOMINAL)).max())

    for mode in (JOINT, TURNS):
        assert changed(mode, mode.worst_share) > changed(mode, 1 - mode.worst_share)
