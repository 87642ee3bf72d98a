"""Rest voltage, surface charge, pairs, tester, load test: what is judged, and what is refused or left open."""

import pytest

from iron_probe.core.bench.battery.conductance import judge_conductance, judge_resistance
from iron_probe.core.bench.battery.load_test import LoadTest, judge_load_test
from iron_probe.core.bench.battery.rest import RestCheck, judge_parallel, judge_rest, judge_series
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.errors import ReadingError


def rest(volts: float, **more: object) -> RestCheck:
    return RestCheck(rest_v=volts, temp_degc=20, chemistry="flooded", **more)  # type: ignore[arg-type]


def test_surface_charge_is_asked_to_be_bled_off_first() -> None:
    early = judge_rest(rest(12.6, hours_since=1))
    assert early.charge is None
    assert early.judged.verdict is Verdict.OPEN
    assert "Headlamps" in early.judged.next_step
    assert judge_rest(rest(12.6, hours_since=1, bled=True)).charge == pytest.approx(0.96, abs=0.06)
    assert judge_rest(rest(12.6, hours_since=14)).charge is not None
    assert judge_rest(rest(13.1)).charge is None  # above full: it cannot be rested
    assert judge_rest(rest(13.6, charger=True, bled=True)).charge is None


def test_charge_has_an_interval_and_low_charge_condemns_nothing() -> None:
    low = judge_rest(rest(12.05, bled=True))
    assert low.low < (low.charge or 0) < low.high
    assert "condemns nothing" in low.judged.text
    with pytest.raises(ReadingError, match="no rest voltage of a 12 V block"):
        judge_rest(rest(25.2))


def test_two_blocks() -> None:
    assert judge_series(12.6, 12.55).verdict is Verdict.GOOD
    assert "second is behind" in judge_series(12.6, 12.2).text
    assert judge_parallel(12.6, 12.5, joined=True).verdict is Verdict.BAD
    assert judge_parallel(12.6, 12.5, joined=False).verdict is Verdict.GOOD


def test_conductance_wants_the_same_rating_and_a_charged_battery() -> None:
    assert judge_conductance(560, "CCA", 600, "SAE", 0.9).verdict is Verdict.GOOD
    assert judge_conductance(300, "CCA", 600, "CCA", 0.9).verdict is Verdict.BAD
    assert judge_conductance(300, "CCA", 600, "CCA", 0.3).verdict is Verdict.OPEN
    with pytest.raises(ReadingError, match="no conversion with a source"):
        judge_conductance(560, "CCA", 600, "EN", 0.9)
    with pytest.raises(ReadingError, match="case size"):
        judge_conductance(560, "JIS", 600, "CCA", 0.9)


def test_resistance_is_held_against_a_healthy_one_of_that_rating() -> None:
    assert judge_resistance(0.005, 600, 25, 1.0).verdict is Verdict.GOOD
    assert judge_resistance(0.012, 600, 25, 1.0).verdict is Verdict.BAD
    assert judge_resistance(0.012, 600, 25, None).verdict is Verdict.OPEN


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
