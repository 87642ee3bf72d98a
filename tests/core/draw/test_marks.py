"""Figures as marks on one scale."""

import pytest

from iron_probe.core.draw.marks import MARGIN, marks


def test_the_scale_holds_all_figures_and_zero_in_proportion() -> None:
    assert marks([2.0, 1.0]) == pytest.approx((1 - MARGIN, 0.5))
    low, zero = marks([-1.0, 0.0])
    assert low == pytest.approx(MARGIN) and zero == pytest.approx(1 - MARGIN)
    assert marks([0.0]) == pytest.approx((MARGIN,))
