"""A stream of figures followed: held, least, greatest, mean, in constant memory."""

import sys

import pytest

from iron_probe.core.meters.following import HOLD_COUNT, HOLD_S, MOST_KEPT, Following


def fed(values: list[float | None], every_s: float = 0.1, **said: float) -> Following:
    following = Following(**said)
    for k, value in enumerate(values):
        following.take(k * every_s, value)
    return following


def test_least_greatest_and_mean_begin_anew() -> None:
    following = fed([12.6, 12.4, 12.8])
    assert (following.least, following.greatest, following.mean) == (12.4, 12.8, pytest.approx(12.6))
    following.reset()
    assert following.least is following.greatest is following.mean is None and following.held(0.01) is None


def test_what_stands_still_for_a_second_is_held() -> None:
    assert fed([12.60, 12.61] * 6).held(0.01) in (12.60, 12.61)
    assert fed([12.60] * 9).held(0.01) is None  # not yet a second
    assert fed([12.60, 12.7] * 6).held(0.01) is None  # 0.1 V apart: more than three digits and than half a per cent
    assert fed([12.60] * 8 + [None] + [12.60] * 3).held(0.01) is None  # over range in between
    assert fed([11.0] * 5 + [12.6] * 12).held(0.01) == 12.6  # what was before the second does not count


def test_too_few_figures_hold_nothing_however_long_they_took() -> None:
    few = HOLD_COUNT - 1
    assert fed([12.6] * (few + 3), every_s=HOLD_S / few * 1.5).held(0.01) is None


def test_a_small_figure_may_move_by_its_last_digits() -> None:
    assert fed([0.0000, 0.0002, 0.0003] * 4).held(0.0001) is not None
    assert fed([0.0000, 0.0002, 0.0004] * 4).held(0.0001) is None


def test_a_clamp_factor_and_zero() -> None:
    following = fed([0.416] * 3, factor=100.0, zero=0.6)
    assert following.least == pytest.approx(41.0)


def test_over_range_counts_for_nothing() -> None:
    assert fed([None, 12.0, None]).mean == 12.0 and fed([None]).least is None


def test_eight_hours_take_no_more_memory_than_a_minute() -> None:
    following = Following()
    for k in range(8 * 3600 * 10):
        following.take(k / 10, 12.0 + (k % 7) / 100)
    assert len(following._recent) == MOST_KEPT and sys.getsizeof(following._recent) < 4000
    assert following.count == 288_000
