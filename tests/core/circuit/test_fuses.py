"""Cold resistance of fuses."""

import pytest

from iron_probe.core.circuit.fuses import BLADE_FUSE_MOHM, PER_K, fuse_ohm


@pytest.mark.parametrize("rating", sorted(BLADE_FUSE_MOHM))
def test_a_rating_of_the_table_has_its_figure(rating: float) -> None:
    assert 1000 * fuse_ohm(rating) == pytest.approx(BLADE_FUSE_MOHM[rating])


def test_between_ratings_and_when_warm_it_follows() -> None:
    assert fuse_ohm(15) < fuse_ohm(12) < fuse_ohm(10)
    assert fuse_ohm(10, temp_degc=70) == pytest.approx(fuse_ohm(10) * (1 + 50 * PER_K))
