"""Conductors: limits and relations the tables must keep."""

import pytest

from iron_probe.core.circuit.conductors import awg_area_mm2, conductor_ohm


def test_resistance_follows_length_and_temperature() -> None:
    base = conductor_ohm(25, 1.0)
    assert conductor_ohm(25, 4.0) == pytest.approx(4 * base)
    assert conductor_ohm(25, 1.0, temp_degc=70) == pytest.approx(base * (1 + 0.00393 * 50))


@pytest.mark.parametrize("area", [0.4, 3.0, 20.0, 60.0, 200.0])
def test_sizes_between_the_table_stay_near_the_law(area: float) -> None:
    solid = 1 / 58 / area
    assert solid < conductor_ohm(area, 1.0) < 1.2 * solid


def test_aluminium_is_the_poorer_conductor() -> None:
    assert conductor_ohm(50, 1, "aluminium") > 1.4 * conductor_ohm(50, 1)


def test_three_gauge_steps_halve_the_section() -> None:
    assert awg_area_mm2(10) / awg_area_mm2(13) == pytest.approx(2.0, rel=0.01)
