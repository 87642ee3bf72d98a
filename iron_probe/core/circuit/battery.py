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

COLD_RESISTANCE_PER_K: dict[Chemistry, float] = {"flooded": 0.0128, "agm": 0.0115, "gel": 0.0145, "lifepo4": 0.03}
"""Exponential rise of internal resistance per kelvin below 25 °C: flooded from 7.2 V at CCA and -18 °C (SAE J537, from memory), AGM a
little less, gel a little more, LiFePO4 far more (common practice)."""

OF_FLOODED: dict[Chemistry, float] = {"flooded": 1.0, "agm": 0.9, "gel": 1.15, "lifepo4": 0.5}
"""Internal resistance at 25 °C beside a flooded block of the same CCA (common practice)."""


EMPTY_BELOW, EMPTY_STEEPNESS, LITHIUM_EMPTY_BELOW = 0.4, 8.0, 0.1
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


def internal_resistance_ohm(cca_a: float, state: BatteryState, chemistry: Chemistry = "flooded") -> float:
    """Internal resistance [Ω] under cranking of a 12 V block rated `cca_a` [A, above 0].

    Rises in the cold and as charge falls: at half charge about 1.4 times, nearly empty far more; LiFePO4 keeps its own until it is
    nearly empty (common practice).
    """
    charge = min(max(state.state_of_charge, 0.0), 1.0)
    cold = exp(COLD_RESISTANCE_PER_K[chemistry] * (25 - state.temp_degc))
    own = FULL_RESISTANCE_V * OF_FLOODED[chemistry] / (cca_a * state.health) * cold
    if chemistry == "lifepo4":
        return own * (1 + EMPTY_STEEPNESS * (max(LITHIUM_EMPTY_BELOW - charge, 0.0) / LITHIUM_EMPTY_BELOW) ** 2)
    nearly_empty = max(EMPTY_BELOW - charge, 0.0) / EMPTY_BELOW
    return own / (0.4 + 0.6 * charge) * (1 + EMPTY_STEEPNESS * nearly_empty**2)


ACCEPTS_FULL, ACCEPTS_EMPTY = 0.03, 0.45
"""Current a full and an empty block takes at 14.3 V and 20 °C, as a share of its amp-hours (common practice)."""
ACCEPTS_PER_K, ACCEPTS_LEAST, LITHIUM_COLD = 0.025, 0.15, 0.002
"""What it takes falls by this share a kelvin of cold, to this share at the least; a LiFePO4 block below freezing takes next to nothing,
its own protection sees to that (common practice)."""


def charging_resistance_ohm(capacity_ah: float, chemistry: Chemistry, state: BatteryState) -> float:
    """Volts over rest voltage per ampere [Ω] while a 12 V block takes charge: what it accepts at 14.3 V, by its charge and its cold."""
    warmth = min(max(1 + ACCEPTS_PER_K * (state.temp_degc - 20), ACCEPTS_LEAST), 1.0)
    accepts_a = capacity_ah * (ACCEPTS_FULL + (ACCEPTS_EMPTY - ACCEPTS_FULL) * (1 - min(max(state.state_of_charge, 0.0), 1.0)) * warmth)
    if chemistry == "lifepo4" and state.temp_degc < 0:
        accepts_a = capacity_ah * LITHIUM_COLD
    return max(14.3 - open_circuit_v(chemistry, state), 0.2) / accepts_a
