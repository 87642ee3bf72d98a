"""A battery block as the rig sees it: rest volts by charge and cold, resistance and polarisation, what it takes when charged.

Constants are the rig's own (common practice, no source, unless it says otherwise); none comes from the engine.
"""

from dataclasses import dataclass
from math import exp

import numpy as np

from iron_probe.core.circuit.elements import Battery

REST_V = {
    "flooded": ((0.0, 11.6), (0.05, 11.8), (0.25, 12.06), (0.5, 12.25), (0.75, 12.44), (1.0, 12.66)),
    "agm": ((0.0, 11.7), (0.05, 11.95), (0.25, 12.22), (0.5, 12.45), (0.75, 12.65), (1.0, 12.87)),
    "gel": ((0.0, 11.7), (0.05, 11.95), (0.25, 12.2), (0.5, 12.42), (0.75, 12.62), (1.0, 12.83)),
    "lifepo4": ((0.0, 10.5), (0.05, 12.5), (0.2, 13.05), (0.5, 13.2), (0.9, 13.35), (1.0, 13.5)),
}
"""Rest volts of a 12 V block at 20 °C by charge."""
AT_ONCE = 2.4
"""Ohmic resistance times cold cranking amps [V]."""
FAST_V, SLOW_V, KNEE = 0.1, 0.15, 0.05
"""Polarisation as FAST_V and SLOW_V times arsinh(current / (KNEE · cold cranking amps)), after Tafel's law: steep for little, flat for
much."""
FAST_S, SLOW_S = 0.12, 1.3
"""Time constants of the two [s]."""
COLD_PER_K = 0.0135
"""Share by which a kelvin of cold raises the resistance."""
EMPTY_BELOW = 0.35
"""Charge under which the acid at the plates runs out and resistance climbs steeply."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Block:
    """One battery block as it is today: `charge` 0..1, `health` share of its cold cranking amps left, `dead_cells`, `flat_v` its rest volts
    when it is deeper down than charge can say (None: as charge says), `apart` when its own protection has cut it off, `frozen`."""

    charge: float
    health: float = 1.0
    dead_cells: int = 0
    flat_v: float | None = None
    apart: bool = False
    frozen: bool = False

    def rest_v(self, battery: Battery, temp_degc: float) -> float:
        """Open-circuit volts."""
        if self.flat_v is not None:
            return self.flat_v * battery.volts / 12
        steps = np.array(REST_V[battery.chemistry])
        block = float(np.interp(self.charge, steps[:, 0], steps[:, 1]))
        if battery.chemistry != "lifepo4":
            block += 0.0012 * (temp_degc - 20)
        return block * battery.volts / 12 - 2.08 * self.dead_cells

    def lag_v(self, battery: Battery, after_s: float) -> float:
        """Volts that stand before arsinh(current / knee), `after_s` seconds into a load."""
        fast_v, slow_v, _ = self.lags(battery)
        return fast_v * (1 - exp(-after_s / FAST_S)) + slow_v * (1 - exp(-after_s / SLOW_S))

    def lags(self, battery: Battery) -> tuple[float, float, float]:
        """Volts of the fast and of the slow one when they are grown, and the amperes of their knee."""
        blocks = battery.volts / 12
        return FAST_V * blocks, SLOW_V * blocks, KNEE * battery.cca_a * self.health

    def ohm(self, battery: Battery, temp_degc: float) -> float:
        """Ohmic resistance."""
        empty = max(EMPTY_BELOW - self.charge, 0.0) / EMPTY_BELOW
        steep = 1 + 12 * empty**2 + (60 if self.flat_v is not None and self.flat_v < 11.0 else 0)
        cold = exp(COLD_PER_K * (20 - temp_degc)) * (1 + (3 * empty if temp_degc < 5 else 0))
        lithium = 0.45 if battery.chemistry == "lifepo4" and temp_degc > 0 else 1.0
        return AT_ONCE / (battery.cca_a * self.health) * battery.volts / 12 * steep * cold * lithium * (40 if self.frozen else 1)

    def takes_a(self, battery: Battery, temp_degc: float) -> float:
        """Current it takes at 14.3 V a block: much when flat, little when full, less in the cold, next to nothing when dead or frozen."""
        if self.frozen or (battery.chemistry == "lifepo4" and temp_degc < 0):
            return 0.05
        warm = min(max((temp_degc + 20) / 40, 0.15), 1.2)
        return battery.capacity_ah * (0.025 + 0.5 * (1 - self.charge) * warm) * max(self.health, 0.1) ** 0.5
