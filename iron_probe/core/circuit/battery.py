"""A 12 V battery block as a source: open-circuit voltage and internal resistance."""

from dataclasses import dataclass
from itertools import pairwise
from math import exp
from typing import Literal

Chemistry = Literal["flooded", "agm", "gel", "lifepo4"]
CHEMISTRIES: tuple[Chemistry, ...] = ("flooded", "agm", "gel", "lifepo4")

_CHARGE_STEPS = (0.0, 0.25, 0.5, 0.75, 1.0)

OPEN_CIRCUIT_V: dict[Chemistry, tuple[float, ...]] = {
    "flooded": (11.85, 12.05, 12.24, 12.43, 12.64),
    "agm": (12.00, 12.24, 12.44, 12.63, 12.84),
    "gel": (12.00, 12.24, 12.42, 12.60, 12.80),
    "lifepo4": (12.0, 13.05, 13.15, 13.25, 13.4),
}
"""Rest voltage [V] of a 12 V block at 25 °C for 0, 25, 50, 75 and 100 % charge.

Flooded follows the hydrometer steps 1.120, 1.155, 1.190, 1.225, 1.265, whose cell voltage an electrolyte model
gives (tests/outside/test_rest_voltage.py); AGM and gel sit about 0.2 V higher, LiFePO4 is flat (common practice).
"""

REST_V_PER_K: dict[Chemistry, float] = {"flooded": 0.0014, "agm": 0.0014, "gel": 0.0014, "lifepo4": 0.0}
"""Rise of rest voltage per kelvin, about 0.23 mV a cell and kelvin (Bode, Lead-Acid Batteries, from memory)."""

FULL_RESISTANCE_V = 2.75
"""Internal resistance times rated CCA [Ω·A] of a full battery at 25 °C: 4.6 mΩ at 600 A (common practice)."""

LAG_V, LAG_SHARE = 0.33, 0.12
"""Volts a 12 V block loses to polarisation within a second of a heavy load, and the share of its CCA from which the load is heavy;
below it the loss grows with the current (0.3 to 0.8 V: common practice)."""

COLD_RESISTANCE_PER_K = 0.0128
"""Exponential rise of internal resistance per kelvin below 25 °C; from 7.2 V at CCA and -18 °C (SAE J537, from memory)."""


EMPTY_BELOW, EMPTY_STEEPNESS = 0.4, 8.0
"""Below this charge a starter battery no longer passes cranking current whatever its plates could: its resistance rises steeply,
at a tenth of its charge about twelvefold (common practice: at a quarter in the cold it turns no diesel, nearly empty nothing)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BatteryState:
    """What the circuit needs to know of a battery: `state_of_charge` 0..1, `temp_degc` [°C], `health` share of rated CCA left."""

    state_of_charge: float = 1.0
    temp_degc: float = 20.0
    health: float = 1.0


def open_circuit_v(chemistry: Chemistry, state: BatteryState) -> float:
    """Rest voltage [V] of a 12 V block, surface charge gone; linear between the steps of OPEN_CIRCUIT_V."""
    steps = OPEN_CIRCUIT_V[chemistry]
    charge = min(max(state.state_of_charge, 0.0), 1.0)
    place = min(int(charge / 0.25), 3)
    share = charge / 0.25 - place
    at_25 = steps[place] + (steps[place + 1] - steps[place]) * share
    return at_25 + REST_V_PER_K[chemistry] * (state.temp_degc - 25)


def state_of_charge(chemistry: Chemistry, rest_v: float, temp_degc: float = 25.0) -> float:
    """Share of charge 0..1 that belongs to `rest_v` [V] of a rested 12 V block at `temp_degc` [°C]; clipped to 0 and 1."""
    steps = OPEN_CIRCUIT_V[chemistry]
    at_25 = rest_v - REST_V_PER_K[chemistry] * (temp_degc - 25)
    if at_25 <= steps[0]:
        return 0.0
    for place, (low, high) in enumerate(pairwise(steps)):
        if at_25 <= high:
            return _CHARGE_STEPS[place] + 0.25 * (at_25 - low) / (high - low)
    return 1.0


def internal_resistance_ohm(cca_a: float, state: BatteryState) -> float:
    """Internal resistance [Ω] under cranking of a 12 V block rated `cca_a` [A, above 0].

    Rises in the cold and as charge falls: at half charge about 1.4 times, nearly empty far more (common practice).
    """
    charge = min(max(state.state_of_charge, 0.0), 1.0)
    cold = exp(COLD_RESISTANCE_PER_K * (25 - state.temp_degc))
    nearly_empty = max(EMPTY_BELOW - charge, 0.0) / EMPTY_BELOW
    return FULL_RESISTANCE_V / (cca_a * state.health) * cold / (0.4 + 0.6 * charge) * (1 + EMPTY_STEEPNESS * nearly_empty**2)


ACCEPTS_FULL, ACCEPTS_EMPTY = 0.03, 0.45
"""Current a full and an empty lead-acid block takes at 14.3 V, as a share of its amp-hours (common practice)."""


def charging_resistance_ohm(capacity_ah: float, chemistry: Chemistry, state: BatteryState) -> float:
    """Volts over rest voltage per ampere [Ω] while a 12 V block takes charge: what it accepts at 14.3 V, by its state of charge."""
    accepts_a = capacity_ah * (ACCEPTS_FULL + (ACCEPTS_EMPTY - ACCEPTS_FULL) * (1 - min(max(state.state_of_charge, 0.0), 1.0)))
    return max(14.3 - open_circuit_v(chemistry, state), 0.2) / accepts_a
