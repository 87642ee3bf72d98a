"""The load test at its limit by temperature."""

import pytest

from iron_probe.core.bench.battery.load_test import LoadTest, judge_load_test
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.errors import ReadingError


@pytest.mark.parametrize(
    ("volts", "load", "charge", "verdict"),
    [
        ([10.4, 10.1, 9.9], 300, 0.9, Verdict.GOOD),
        ([10.2, 9.8, 9.65], 300, 0.9, Verdict.WEAK),
        ([10.0, 9.3, 8.8], 300, 0.9, Verdict.BAD),
        ([10.0, 9.3, 8.8], 300, 0.4, Verdict.OPEN),
        ([10.0, 9.3, 8.8], 300, None, Verdict.OPEN),
        ([10.4, 10.1, 9.9], 150, 0.9, Verdict.OPEN),  # half the load proves nothing when it holds
        ([10.0, 9.3, 8.8], 150, 0.9, Verdict.BAD),  # and everything when even that is too much
    ],
)
def test_load_test(volts: list[float], load: float, charge: float | None, verdict: Verdict) -> None:
    judged = judge_load_test(LoadTest(seconds=[5, 10, 15], volts=volts, load_a=load, rated_a=600, temp_degc=21, charge=charge))
    assert judged.verdict is verdict


def test_a_load_test_still_going_is_open() -> None:
    assert judge_load_test(LoadTest(seconds=[5], volts=[10.2], load_a=300, rated_a=600, temp_degc=21, charge=0.9)).verdict is Verdict.OPEN
    with pytest.raises(ReadingError, match="must rise"):
        judge_load_test(LoadTest(seconds=[5, 5], volts=[10, 10], load_a=300, rated_a=600, temp_degc=21, charge=0.9))
