"""What a meter shows of a rattle: means over three positions, each for its share of the time."""

import numpy as np
import pytest

from iron_probe.core.solve.rattle import Rattle, over_time, remember


def test_the_last_two_positions_are_kept_of_those_that_moved_alone() -> None:
    rattle = Rattle(np.zeros((2, 1, 2)), np.zeros((2, 1, 2)), np.zeros((2, 1, 2)))
    for volts in (3.0, 5.0, 7.0):
        remember(rattle, np.array([1]), np.full((1, 2), volts), np.full((1, 2), 10 * volts))
    assert rattle.volts[:, 0].tolist() == [[0, 7], [0, 5]]
    assert rattle.amps[:, 0].tolist() == [[0, 70], [0, 50]]


def test_each_position_has_its_share_of_the_time_and_the_swing_is_kept() -> None:
    rattle = Rattle(np.array([[[6.0]], [[9.0]]]), np.array([[[60.0]], [[90.0]]]), np.zeros((2, 1, 1)))
    volts, amps = np.array([[12.0]]), np.array([[120.0]])
    over_time(rattle, 0, np.array([[0.7], [0.2]]), volts, amps)  # shares 0.2, 0.5 and 0.3
    assert volts[0, 0] == pytest.approx(0.2 * 12 + 0.5 * 6 + 0.3 * 9)
    assert amps[0, 0] == pytest.approx(10 * volts[0, 0])
    assert rattle.away_v[:, 0, 0].tolist() == [-6, -3]
