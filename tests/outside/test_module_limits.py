"""Limits of module and bus checks against the standards' figures: ISO 11898-2 and ISO 17987-4, from memory."""

import pytest

from iron_probe.core.bench.control.module_checks import find_check, judge_check
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.limits import LINE_PAIR_OHM


def test_two_ends_of_120_ohm_in_parallel() -> None:
    assert pytest.approx(1 / (1 / 120 + 1 / 120)) == LINE_PAIR_OHM
    assert judge_check(find_check("pair_ohm"), "60", 12)[1].verdict is Verdict.GOOD
    assert judge_check(find_check("pair_ohm"), "120", 12)[1].verdict is Verdict.BAD


@pytest.mark.parametrize("supply", [12.0, 24.0])
def test_one_wire_levels_at_20_and_80_percent_of_supply(supply: float) -> None:
    for share, idle, low in ((0.81, Verdict.GOOD, Verdict.BAD), (0.79, Verdict.BAD, Verdict.BAD), (0.19, Verdict.BAD, Verdict.GOOD)):
        assert judge_check(find_check("one_wire_idle"), f"{share * supply:.3f}", supply)[1].verdict is idle
        assert judge_check(find_check("one_wire_low"), f"{share * supply:.3f}", supply)[1].verdict is low
