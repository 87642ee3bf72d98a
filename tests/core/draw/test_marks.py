"""Figures as marks on one scale."""

import pytest

from iron_probe.core.draw.marks import MARGIN, marks


def test_figures_far_apart_stand_on_a_scale_with_zero_and_near_ones_on_a_finer_one() -> None:
    assert marks([2.0, 0.5]) == pytest.approx((1 - MARGIN, MARGIN + 0.25 * (1 - 2 * MARGIN)))
    low, high = marks([-1.0, 1.0])
    assert low == pytest.approx(MARGIN) and high == pytest.approx(1 - MARGIN)
    low, high = marks([10.0, 12.0])
    assert low == pytest.approx(MARGIN) and high == pytest.approx(1 - MARGIN)


def test_next_to_nothing_does_not_look_like_much() -> None:
    low, high = marks([11.00, 11.01])
    assert 0.4 < low < high < 0.6
    assert marks([0.0]) == pytest.approx((0.5,))
