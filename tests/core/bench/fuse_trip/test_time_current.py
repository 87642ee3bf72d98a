"""How long a fuse holds at a multiple of its rating."""

import pytest

from iron_probe.core.bench.fuse_trip.time_current import band_at, judge_opening, multiples_for


def test_times_and_multiples() -> None:
    assert band_at(2.0) == pytest.approx((0.15, 5.0))
    assert band_at(1.0)[0] == float("inf")
    assert multiples_for(0.05).word == "short"
    assert multiples_for(60).word == "overload"
    assert "later than a fuse" in judge_opening(6, 5)
    assert "sooner than" in judge_opening(1.6, 0.01)
