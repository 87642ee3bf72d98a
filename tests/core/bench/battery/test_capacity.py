"""Capacity from a discharge, its early end, what was accepted, and what a draw leaves of it in time."""

import numpy as np
import pytest

from iron_probe.core.bench.battery.capacity import CapacityRun, hours_at, judge_accepted, judge_capacity
from iron_probe.core.bench.battery.charging_up import plan_charge
from iron_probe.core.bench.battery.endurance import draw_that_explains, endurance, explains, no_start_charge
from iron_probe.core.bench.battery.guard import MadeTest, why_not_condemned
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet


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


def test_refused_runs() -> None:
    for broken in ([0.0, 0.0], [5.0, 1.0]):
        with pytest.raises(ReadingError, match="must rise"):
            judge_capacity(CapacityRun(minutes=broken, volts=[12, 11], amps=[20, 20], rated_ah=80))
    with pytest.raises(ReadingError, match="needs a load"):
        judge_capacity(CapacityRun(minutes=[0, 5], volts=[12, 11], amps=[20, 0], rated_ah=80))


def test_what_was_accepted_bounds_what_is_held() -> None:
    assert judge_accepted(7, 80).verdict is Verdict.BAD
    assert judge_accepted(80, 80).verdict is Verdict.GOOD


def test_days_to_no_start_and_its_inverse_agree() -> None:
    sheet = load_sheet("pool-car")
    answer = endurance(sheet, 0.25, charge=0.9, share_left=0.4, temp_degc=5)
    this_a, good_a = draw_that_explains(sheet, answer.hours, 0.9, 0.4, 5)
    assert this_a == pytest.approx(0.25, rel=0.03)
    assert good_a > 2 * this_a
    assert answer.curve[0][1] == pytest.approx(0.9)
    assert np.interp(answer.hours, *zip(*answer.curve, strict=True)) == pytest.approx(answer.no_start_charge, abs=0.01)
    assert no_start_charge(sheet, -15) > no_start_charge(sheet, 25) > 0.05
    with pytest.raises(ReadingError, match="above zero"):
        endurance(sheet, 0, 1, 1, 20)


def test_220_ma_empties_a_good_battery_in_days_and_one_with_a_tenth_left_in_a_night() -> None:
    """common practice, no source (CHECKS)."""
    sheet = load_sheet("crew-minibus")
    good = endurance(sheet, 0.22, 1.0, 1.0, 15)
    worn = endurance(sheet, 0.22, 1.0, 0.1, 15)
    assert 3 < good.hours / 24 < 25
    assert 6 < worn.hours < 48
    assert explains([worn.usable_ah, good.usable_ah], 0.22, worn.hours) == [True, False]


def test_charge_plan() -> None:
    plan = plan_charge(0.4, 80, 1.0, "flooded", 10)
    assert plan.put_back_ah == pytest.approx(0.6 * 80 / 0.85)
    assert plan.hours > plan.put_back_ah / 10  # the taper costs time
    assert plan_charge(0.4, 80, 1.0, "flooded", 60).amps == 16  # no more than the chemistry takes
    assert plan.measure_hours > plan.hours


@pytest.mark.parametrize(
    ("tests", "why"),
    [
        ([("rest", Verdict.BAD, 0.2)], "One deep discharge condemns nothing".lower()),
        ([("rest", Verdict.GOOD, 0.9), ("crank", Verdict.BAD, 0.9)], "no test that judges it"),
        ([("rest", Verdict.GOOD, 0.9), ("load", Verdict.BAD, 0.9)], None),
        ([("load", Verdict.BAD, 0.3)], "one deep discharge condemns nothing"),
    ],
)
def test_what_condemns(tests: list[tuple[str, Verdict, float]], why: str | None) -> None:
    told = why_not_condemned([MadeTest(kind=k, verdict=v, charge=c) for k, v, c in tests])
    assert told is None if why is None else told is not None and why in told.lower()
