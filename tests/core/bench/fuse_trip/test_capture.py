"""A fuse blowing, captured with a clamp on each branch."""

import numpy as np
import pytest

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.fuse_trip.capture import read_trip
from iron_probe.core.errors import CaptureError


def capture(surge_a: float, lasts_s: float, ceiling_a: float = 1e9) -> tuple[Floats, dict[str, Floats]]:
    """2 s at 1 kHz: lamps on at 0.5 s, branch `boom` runs away at 1 s, the fuse opens after `lasts_s`."""
    rng = np.random.default_rng(2)
    t = np.arange(2000) / 1000
    opened = t >= 1 + lasts_s
    volts = np.where(opened, 0.05, 25.2) + 0.02 * rng.standard_normal(len(t))
    roof = np.where((t > 0.5) & ~opened, 5.8, 0.0) + 0.03 * rng.standard_normal(len(t))
    boom = np.where((t > 0.5) & ~opened, 5.8, 0.0) + np.where((t >= 1) & ~opened, surge_a, 0.0) + 0.03 * rng.standard_normal(len(t))
    heater = 0.03 * rng.standard_normal(len(t))
    return volts, {"roof lamps": roof, "boom lamps": np.minimum(boom, ceiling_a), "heater": heater}


def test_the_branch_that_runs_away_is_named_and_the_others_cleared() -> None:
    trip = read_trip(*capture(150, 0.06), 0.001, 30, "regular")
    assert trip.runaway == 1
    assert trip.opened_s == pytest.approx(1.06, abs=0.003)
    assert trip.surge_s == pytest.approx(0.06, abs=0.005)
    assert [b.word for b in trip.branches] == ["carries", "ran away", "cleared"]
    assert trip.branches[1].i2t == pytest.approx(155.8**2 * 0.06, rel=0.05)
    assert trip.kind == "short"
    assert "as a fuse of that rating does" in trip.as_rated


def test_a_trace_at_the_clamps_ceiling_is_a_lower_bound() -> None:
    trip = read_trip(*capture(150, 0.06, ceiling_a=60), 0.001, 30, "regular")
    assert trip.branches[1].at_least
    assert trip.multiple_at_least
    assert trip.runaway == 1
    assert trip.kind == "short"


def test_an_overload_takes_its_time() -> None:
    trip = read_trip(*capture(38, 0.9), 0.001, 30, "regular")
    assert trip.kind == "overload"
    assert trip.multiple == pytest.approx(1.65, abs=0.1)


def test_a_capture_in_which_nothing_opens_is_refused() -> None:
    volts, branches = capture(150, 5.0)
    with pytest.raises(CaptureError, match="No fuse opens"):
        read_trip(volts, branches, 0.001, 30, "regular")
    with pytest.raises(CaptureError, match="no branch current"):
        read_trip(volts, {}, 0.001, 30, "regular")
