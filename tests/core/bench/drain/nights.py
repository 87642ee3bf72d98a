"""A made night of a sleeping machine."""

import numpy as np

from iron_probe.machines import load_sheet

SHUTTLE = load_sheet("lift-shuttle")


def night(wake_every_s: int = 3600, wakes: int = 6) -> np.ndarray:
    """One sample a second: 1.2 A, 0.4 A, asleep at 30 mA, and the gate controller awake for 90 s every hour."""
    rng = np.random.default_rng(3)
    amps = np.full(300 + 900 + wake_every_s * (wakes + 1), 0.030)
    amps[:300], amps[300:1200] = 1.2, 0.40
    for k in range(wakes):
        start = 1200 + (k + 1) * wake_every_s
        amps[start : start + 90] += 0.378
    return amps + 0.001 * rng.standard_normal(len(amps))
