"""Scales of battery tests, with their zones where the limits lie."""

import pytest

from iron_probe.core.draw.gauge import battery_gauge, gauge
from iron_probe.core.limits import CONDUCTANCE_GOOD_SHARE, CONDUCTANCE_WEAK_SHARE, CRANKING_GOOD_V, CRANKING_LOW_V


def test_figures_beyond_the_scale_stand_at_its_end_and_none_stands_nowhere() -> None:
    over = gauge(0, 10, [(5, "5")], 2, 4, 12.0, -1.0)
    assert (over.at, over.low, over.high, over.bad_to, over.weak_to) == (1.0, 0.0, None, 0.2, 0.4)
    assert over.ticks == ((0.5, "5"),)


@pytest.mark.parametrize("blocks", [1, 2])
def test_zones_of_a_cranked_set_lie_at_its_limits(blocks: int) -> None:
    drawn = battery_gauge("crank", {"posts": CRANKING_GOOD_V * blocks}, "flooded", blocks, 20.0)
    low = battery_gauge("crank", {"posts": CRANKING_LOW_V * blocks}, "flooded", blocks, 20.0)
    assert drawn.at == pytest.approx(drawn.weak_to) and low.at == pytest.approx(drawn.bad_to)


def test_a_tester_is_held_against_its_rating() -> None:
    drawn = battery_gauge("conductance", {"measured": CONDUCTANCE_GOOD_SHARE * 600, "rated": 600}, "agm", 1, 20.0)
    assert drawn.at == pytest.approx(drawn.weak_to)
    assert drawn.bad_to / drawn.weak_to == pytest.approx(CONDUCTANCE_WEAK_SHARE / CONDUCTANCE_GOOD_SHARE)
    assert battery_gauge("conductance", {"measured": 500}, "agm", 1, 20.0).at is None
