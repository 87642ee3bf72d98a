"""What a fuse feeds, and what its blowing clears."""

import pytest

from iron_probe.core.bench.drain.feed_tree import feed_tree
from iron_probe.core.bench.fuse_trip.feeds import Clamped, Cleared, feeds_of, judge_ohms_to_ground, legs_of
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.circuit.network import network_of
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet

DIGGER = network_of(load_sheet("quay-digger"))


TREE = feed_tree(DIGGER)


def test_a_fuse_that_blows_with_the_lamps_clears_what_is_live_without_them() -> None:
    feeds = feeds_of(TREE, DIGGER, "c3", blows_in=["lamps"], holds_in=["run"])
    assert {e for e, _ in feeds.consumers} >= {"boom-lamps", "roof-lamps"}
    assert {s.element for s in feeds.suspect} >= {"boom-wire", "roof-wire", "boom-plug"}
    assert {p.element for p in feeds.suspect if p.load} == {"boom-lamps", "roof-lamps"}  # a load may lie on ground itself
    assert ("lamp-feed", Cleared.STATES) in {(p.element, why) for p, why in feeds.cleared}
    assert [s.element for s in feeds.halving] == ["boom-plug"]
    with pytest.raises(ReadingError, match="no fuse on this sheet"):
        feeds_of(TREE, DIGGER, "c99")


def test_clamps_clear_what_hangs_behind_them_and_name_where_it_ran() -> None:
    feeds = feeds_of(TREE, DIGGER, "c3", clamped=Clamped(quiet=("roof-wire",), ran_away="boom-wire"))
    assert {p.element for p in feeds.suspect} == {"boom-wire", "boom-plug", "boom-lamps"}
    why = {p.element: w for p, w in feeds.cleared}
    assert (why["roof-lamps"], why["horn"]) == (Cleared.CLAMP, Cleared.ELSEWHERE)


def test_coils_behind_the_key_are_suspects_of_a_fuse_that_blows_cranking() -> None:
    mower = network_of(load_sheet("green-mower"))
    feeds = feeds_of(feed_tree(mower), mower, "f1", blows_in=["crank"], holds_in=["run"])
    assert "solenoid" in {p.element for p in feeds.suspect if p.load}


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
