"""Cold resistance of fuses."""

import pytest

from iron_probe.core.circuit.fuses import BLADE_FUSE_MOHM, PER_K, amps_behind, fuse_ohm, warm_factor


@pytest.mark.parametrize("rating", sorted(BLADE_FUSE_MOHM))
def test_a_rating_of_the_table_has_its_figure(rating: float) -> None:
    assert 1000 * fuse_ohm(rating) == pytest.approx(BLADE_FUSE_MOHM[rating])


def test_between_ratings_and_when_warm_it_follows() -> None:
    assert fuse_ohm(15) < fuse_ohm(12) < fuse_ohm(10)
    assert fuse_ohm(10, temp_degc=70) == pytest.approx(fuse_ohm(10) * (1 + 50 * PER_K))


def test_a_fuse_warms_with_what_it_carries() -> None:
    cold = fuse_ohm(10)
    assert 0.08 < 10 * cold * warm_factor(1.0) < 0.11 + 0.005  # a blade at its rating: 80 to 110 mV (common practice)
    for amps in (0.05, 3.0, 10.0, 11.0):
        assert amps_behind(amps * cold * warm_factor(amps / 10), cold, 10) == pytest.approx(amps, rel=1e-6)
