"""Amperes from fuse drops, clamps and meters."""

import pytest

from iron_probe.core.bench.drain.amps_read import amps_of_drop, hidden_a
from iron_probe.core.errors import ReadingError


def test_fuse_drop_in_amps_with_what_a_zero_hides() -> None:
    amps = amps_of_drop(0.003, 1e-4, 10)
    assert amps.best == pytest.approx(0.4, rel=0.01)
    assert amps.low < 0.35 < 0.45 < amps.high
    assert hidden_a(1e-4, 10) == pytest.approx(0.0133, abs=1e-4)
    assert amps_of_drop(0.0, 1e-4, 10).high == pytest.approx(0.0133 / 0.85, rel=0.01)
    assert amps_of_drop(1e-4, 1e-4, 60, "cartridge").best > amps_of_drop(0.0005, 1e-4, 5, "mini").best
    assert amps_of_drop(0.003, 1e-4, 10, temp_degc=-20).best > 0.45
    with pytest.raises(ReadingError, match="cannot carry"):
        amps_of_drop(0.3, 1e-4, 10)
