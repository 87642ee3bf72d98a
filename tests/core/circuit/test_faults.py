"""Faults as changes of parameters."""

import pytest

from iron_probe.core.circuit.faults import LEAK, OPEN_OHM, Around, Change, diode_faults, fixed, leaking, resistive, scaled


def test_a_fixed_fault_has_no_severity_and_a_scaled_one_has_a_range() -> None:
    broken, worn = fixed("open", 2.0, "r_ohm", OPEN_OHM), scaled("worn", 1.0, "r_ohm", 2.0, 8.0)
    assert (broken.least, broken.most) == (1.0, 1.0) and broken.altered[0].power == 0.0
    assert (worn.least, worn.most) == (2.0, 8.0) and worn.altered[0].change is Change.SCALE


def test_a_leak_hangs_on_a_point() -> None:
    leak = leaking("cable.end", LEAK, "shorted", 1.0, 1e-3, 1.0)
    assert (leak.altered[0].owner, leak.altered[0].parameter, leak.altered[0].change) == ("cable.end", LEAK, Change.ADD)


def test_what_carries_more_is_called_resistive_from_less() -> None:
    """A high resistance is a fault from a loss in volts, so from fewer ohms where more current flows."""
    thick, thin = (resistive(1.0, Around(amps, True)) for amps in (300.0, 3.0))
    assert thick is not None and thin is not None
    assert thin.least / thick.least == pytest.approx(100.0)


def test_a_lost_diode_takes_output_and_a_shorted_one_more() -> None:
    opened, shorted = diode_faults("rated_a", 1.0, 0.5)
    left = [f.altered[0].amount for f in (opened, shorted)]
    assert left[1] < left[0] < 1
    assert [opened.weight, shorted.weight] == [1.0, 0.5]
