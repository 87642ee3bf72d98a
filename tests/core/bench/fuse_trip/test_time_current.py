"""How long a fuse holds at a multiple of its rating."""

import pytest

from iron_probe.core.bench.fuse_trip.time_current import band_at, judge_opening, multiples_for


def word_for(seconds: float) -> str:
    found = multiples_for(seconds, "regular")
    assert found is not None
    return found.word


def test_times_and_multiples() -> None:
    assert band_at(2.0) == pytest.approx((0.15, 5.0))
    assert band_at(1.0)[0] == float("inf")
    assert word_for(0.05) == "short"
    assert word_for(60) == "overload"
    assert "later than a fuse" in judge_opening(6, 5, "regular")
    assert "sooner than" in judge_opening(1.6, 0.01, "mini")


def test_a_curve_that_is_not_known_is_not_made_up() -> None:
    for make in ("link", "cartridge", "glass", "breaker"):
        assert multiples_for(0.5, make) is None  # type: ignore[arg-type]
        assert "not known" in judge_opening(4.0, 0.5, make)  # type: ignore[arg-type]
