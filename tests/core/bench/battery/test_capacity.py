"""Capacity from a discharge, its early end, what was accepted, and what a draw leaves of it in time."""

from dataclasses import replace

import numpy as np
import pytest

from iron_probe.core.bench.battery.capacity import CapacityRun, hours_at, judge_accepted, judge_capacity, left_by_cold
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.errors import ReadingError


def run_of(true_ah: float, amps: float, until: float | None = None, rated: float = 80.0) -> CapacityRun:
    """A discharge by Peukert: volts fall straight, then steeply to the floor at the end."""
    ends = 60 * hours_at(amps, true_ah, 1.17)
    minutes = np.linspace(0, ends * 1.02 if until is None else until, 40)
    volts = 12.3 - 0.8 * minutes / ends - 1.0 * np.maximum(minutes / ends - 0.85, 0) / 0.15
    return CapacityRun(minutes=minutes.tolist(), volts=volts.tolist(), amps=[amps] * 40, rated_ah=rated)


@pytest.mark.parametrize(("true_ah", "verdict"), [(80, Verdict.GOOD), (52, Verdict.WEAK), (12, Verdict.BAD)])
def test_capacity_is_found_with_an_interval_that_holds_it(true_ah: float, verdict: Verdict) -> None:
    found = judge_capacity(run_of(true_ah, 24))
    assert found.reached
    assert found.share * 80 == pytest.approx(true_ah, rel=0.02)
    assert found.low * 80 <= true_ah <= found.high * 80
    assert found.judged.verdict is verdict


def test_the_curve_proves_it_bad_before_the_end() -> None:
    early = judge_capacity(run_of(10, 24, until=5))
    assert not early.reached
    assert early.judged.verdict is Verdict.BAD
    assert "already proves it" in early.judged.text
    good = judge_capacity(run_of(80, 24, until=20))
    assert good.judged.verdict is Verdict.OPEN
    assert good.ends_minutes is not None
    assert good.ends_minutes > 60 * hours_at(24, 80, 1.17) * 0.95  # carried on straight, a bound from above


def test_an_early_stop_is_a_bound() -> None:
    least = judge_capacity(run_of(100, 24, until=60 * hours_at(24, 80, 1.17)))
    assert (least.bound, least.judged.verdict) == (Bound.AT_LEAST, Verdict.GOOD)
    assert 0.8 < least.share < 1.0
    most = judge_capacity(run_of(10, 24, until=5))
    assert most.bound is Bound.AT_MOST
    assert 10 / 80 < most.share < 0.5
    assert judge_capacity(run_of(80, 24)).bound is Bound.EXACT


def test_cold_is_charged_once_and_an_unknown_charge_judges_nothing() -> None:
    cold = replace(run_of(80 * left_by_cold(0), 24), temp_degc=0)
    assert left_by_cold(0) == pytest.approx(0.85)
    assert judge_capacity(cold).share == pytest.approx(1.0, rel=0.03)  # a sound one, run down in the cold
    after_a_drive = judge_capacity(replace(run_of(30, 24), charge=None))
    assert (after_a_drive.judged.verdict, after_a_drive.bound) == (Verdict.OPEN, Bound.AT_LEAST)
    assert "not known" in after_a_drive.judged.text
    assert judge_capacity(replace(run_of(64, 24), charge=0.8)).share == pytest.approx(1.0, rel=0.03)  # it began at four fifths


def test_refused_runs() -> None:
    for broken in ([0.0, 0.0], [5.0, 1.0]):
        with pytest.raises(ReadingError, match="must rise"):
            judge_capacity(CapacityRun(minutes=broken, volts=[12, 11], amps=[20, 20], rated_ah=80))
    with pytest.raises(ReadingError, match="needs a load"):
        judge_capacity(CapacityRun(minutes=[0, 5], volts=[12, 11], amps=[20, 0], rated_ah=80))


def test_what_was_accepted_bounds_what_is_held() -> None:
    assert judge_accepted(7, 80).verdict is Verdict.BAD
    assert judge_accepted(80, 80).verdict is Verdict.GOOD
