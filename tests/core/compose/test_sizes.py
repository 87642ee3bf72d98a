"""Sizes of a composed machine."""

import pytest

from iron_probe.blocks import pattern_book
from iron_probe.core.circuit.ampacity import cable_carries_a
from iron_probe.core.circuit.conductors import conductor_ohm
from iron_probe.core.compose.compose import compose
from iron_probe.core.compose.sizes import FUSES_A, LINKS_A, cable_mm2, fuse_for, rating_over


@pytest.mark.parametrize(("amps", "length_m", "drop_v"), [(5, 2, 0.3), (25, 4, 0.3), (90, 1, 0.15)])
def test_a_cable_carries_its_current_and_drops_no_more_and_the_next_smaller_does_not(amps: float, length_m: float, drop_v: float) -> None:
    area = cable_mm2(amps, length_m, drop_v)
    assert cable_carries_a(area) >= amps and amps * conductor_ohm(area, length_m) <= drop_v
    smaller = [a for a in (0.5, 0.75, 1, 1.5, 2.5, 4, 6, 10, 16, 25, 35, 50, 70) if a < area]
    assert not smaller or cable_carries_a(smaller[-1]) < amps or amps * conductor_ohm(smaller[-1], length_m) > drop_v


def test_for_the_seconds_of_a_crank_a_cable_may_be_thinner() -> None:
    assert cable_mm2(140, 1.2, 1.0, cranking=True) < cable_mm2(140, 1.2, 1.0)


def test_ratings_are_those_that_are_sold() -> None:
    assert rating_over(90) == 100 and rating_over(91) == 125 and rating_over(5000) == LINKS_A[-1]
    assert fuse_for(110 / 12) == 15 and fuse_for(110 / 12) in FUSES_A


def test_as_much_power_at_other_volts() -> None:
    book = pattern_book()
    at12, at24 = (compose(book, {"kind": "loader", "volts": v}).sheet.element("starter") for v in ("12", "24"))
    assert at24.load_a == pytest.approx(0.65 * at12.load_a)  # type: ignore[union-attr]
    assert 12 / at12.stall_mohm / at12.load_a == pytest.approx(24 / at24.stall_mohm / at24.load_a, rel=1e-3)  # type: ignore[union-attr]
