"""Hours to give back a charge against numerical integration: source: scipy.integrate.solve_ivp of the solved machine's own current."""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from iron_probe.core.bench.charging import energy_balance
from iron_probe.core.circuit.elements import Battery, Conditions
from iron_probe.core.circuit.network import network_of
from iron_probe.core.limits import CHARGE_GIVEN_BACK_SHARE
from iron_probe.core.solve.operate import solve_state
from iron_probe.machines import load_sheet


def test_first_hours_of_charging_follow_the_balance() -> None:
    """Over so short a stretch that acceptance hardly falls, amp-hours integrated equal those the balance promises."""
    sheet = load_sheet("estate-car")
    battery = next(e for e in sheet.elements if isinstance(e, Battery))
    charges = np.linspace(0.4, 1.0, 13)
    amps = [float(solve_state(network_of(sheet, Conditions(charge=float(c))), "fast").current("battery")[0]) for c in charges]

    def rate(hour: float, charge: np.ndarray) -> np.ndarray:
        return np.interp(charge, charges, amps) * CHARGE_GIVEN_BACK_SHARE / battery.capacity_ah

    start = 0.6
    now = next(b for b in energy_balance(sheet, Conditions(charge=start), missing_ah=1.0) if b.state == "fast")
    assert now.hours is not None
    grown = solve_ivp(rate, (0, now.hours), [start], rtol=1e-8).y[0][-1]
    assert (grown - start) * battery.capacity_ah == pytest.approx(1.0, rel=0.03)
