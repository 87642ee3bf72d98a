"""The watch draws currents on a log scale over time."""

import pytest

from iron_probe.core.draw.watch import LEAST_A, MOST_A, height, watch


def test_a_decade_is_the_same_height_everywhere() -> None:
    assert height(0.01) - height(0.1) == pytest.approx(height(0.1) - height(1.0))
    assert height(MOST_A) == pytest.approx(0.0) and height(LEAST_A) == pytest.approx(1.0)
    assert height(0.0) == pytest.approx(1.0) and height(1000.0) == pytest.approx(0.0)


def test_a_point_holds_until_the_next_and_nothing_is_nothing() -> None:
    assert watch([], [], 0.05) is None
    drawn = watch([(0.0, 2.0), (600.0, 0.03)], [(300.0, "locked")], 0.05)
    assert drawn is not None and drawn.marks
    xs = [x for x, _ in drawn.points]
    assert xs == sorted(xs) and xs[0] >= 0 and xs[-1] <= 1
