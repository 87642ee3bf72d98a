"""Lanes of a capture pass through every least and greatest."""

import numpy as np
import pytest

from iron_probe.core.draw.trip_lanes import COLUMNS, LEAST_SHARE, lanes


def test_a_spike_of_one_sample_is_drawn() -> None:
    volts, amps = np.full(100_000, 12.0), np.zeros(100_000)
    amps[54_321] = 300.0
    drawn = lanes([("volts", "V", volts), ("amps", "A", amps)])
    heights = [y for _, y in drawn[1].points]
    assert max(heights) - min(heights) == pytest.approx(1.0, abs=0.01)
    assert len(drawn[1].points) <= 4 * COLUMNS


def test_a_branch_that_hardly_moves_is_not_blown_up_beside_one_that_does() -> None:
    quiet, ran, volts = lanes([("a", "A", [0.0, 1.0]), ("b", "A", [0.0, 200.0]), ("v", "V", [12.0, 0.0])])
    assert quiet.high == LEAST_SHARE * ran.high and volts.high == 12.0
