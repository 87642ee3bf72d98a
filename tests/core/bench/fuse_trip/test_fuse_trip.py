"""A blown fuse: times and multiples, a capture with one clamp per branch, what it feeds, legs of a main fuse, ohms to ground."""

import numpy as np
import pytest

from iron_probe.core.bench.drain.feed_tree import feed_tree
from iron_probe.core.bench.fuse_trip.capture import read_trip
from iron_probe.core.bench.fuse_trip.feeds import feeds_of, judge_ohms_to_ground, legs_of
from iron_probe.core.bench.fuse_trip.time_current import band_at, judge_opening, multiples_for
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.circuit.network import Floats, network_of
from iron_probe.core.errors import CaptureError, ReadingError
from iron_probe.machines import load_sheet

DIGGER = network_of(load_sheet("quay-digger"))
TREE = feed_tree(DIGGER)


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
    trip = read_trip(*capture(150, 0.06), 0.001, 30)
    assert trip.runaway == 1
    assert trip.opened_s == pytest.approx(1.06, abs=0.003)
    assert trip.surge_s == pytest.approx(0.06, abs=0.005)
    assert [b.word for b in trip.branches] == ["carries", "ran away", "cleared"]
    assert trip.branches[1].i2t == pytest.approx(155.8**2 * 0.06, rel=0.05)
    assert trip.kind == "short"
    assert "as a fuse of that rating does" in trip.as_rated


def test_a_trace_at_the_clamps_ceiling_is_a_lower_bound() -> None:
    trip = read_trip(*capture(150, 0.06, ceiling_a=60), 0.001, 30)
    assert trip.branches[1].at_least
    assert trip.multiple_at_least
    assert trip.runaway == 1
    assert trip.kind == "short"


def test_an_overload_takes_its_time() -> None:
    trip = read_trip(*capture(38, 0.9), 0.001, 30)
    assert trip.kind == "overload"
    assert trip.multiple == pytest.approx(1.65, abs=0.1)


def test_a_capture_in_which_nothing_opens_is_refused() -> None:
    volts, branches = capture(150, 5.0)
    with pytest.raises(CaptureError, match="No fuse opens"):
        read_trip(volts, branches, 0.001, 30)
    with pytest.raises(CaptureError, match="no branch current"):
        read_trip(volts, {}, 0.001, 30)


def test_times_and_multiples() -> None:
    assert band_at(2.0) == pytest.approx((0.15, 5.0))
    assert band_at(1.0)[0] == float("inf")
    assert multiples_for(0.05).word == "short"
    assert multiples_for(60).word == "overload"
    assert "later than a fuse" in judge_opening(6, 5)
    assert "sooner than" in judge_opening(1.6, 0.01)


def test_a_fuse_that_blows_with_the_lamps_clears_what_is_live_without_them() -> None:
    feeds = feeds_of(TREE, DIGGER, "c3", blows_in=["lamps"], holds_in=["run"])
    assert {e for e, _ in feeds.consumers} >= {"boom-lamps", "roof-lamps"}
    assert {s.element for s in feeds.suspect} >= {"boom-wire", "roof-wire", "boom-plug"}
    assert "lamp-feed" in {s.element for s in feeds.cleared}
    assert [s.element for s in feeds.halving] == ["boom-plug"]
    with pytest.raises(ReadingError, match="no fuse on this sheet"):
        feeds_of(TREE, DIGGER, "c99")


def test_dead_functions_name_the_leg_of_the_main_fuse() -> None:
    legs = legs_of(TREE, ["intake-heater", "refuel-pump"], ["beacon"])
    assert legs[0].fuse.id == "engine-link"
    assert legs[0].working_behind == 0
    with pytest.raises(ReadingError, match="at least one"):
        legs_of(TREE, [], ["beacon"])


def test_ohms_to_ground_tell_a_short_from_cold_lamps() -> None:
    assert judge_ohms_to_ground(TREE, "c3", 0.3, unplugged=True).verdict is Verdict.BAD
    assert judge_ohms_to_ground(TREE, "c3", 1e6, unplugged=True).verdict is Verdict.GOOD
    cold = judge_ohms_to_ground(TREE, "c3", 0.17, unplugged=False)
    assert cold.verdict is Verdict.OPEN
    assert "together make about" in cold.text
