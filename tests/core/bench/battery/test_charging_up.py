"""Charging a battery up."""

import pytest

from iron_probe.core.bench.battery.charging_up import plan_charge


def test_charge_plan() -> None:
    plan = plan_charge(0.4, 80, 1.0, "flooded", 10)
    assert plan.put_back_ah == pytest.approx(0.6 * 80 / 0.85)
    assert plan.hours > plan.put_back_ah / 10  # the taper costs time
    assert plan_charge(0.4, 80, 1.0, "flooded", 60).amps == 16  # no more than the chemistry takes
    assert plan.measure_hours > plan.hours
