"""Devices that never settle: the positions a rattle goes through, and what a meter shows of it; in compiled code."""

from typing import NamedTuple

from iron_probe.core.arrays import Floats, Ints
from iron_probe.core.solve.compiled import compiled


class Rattle(NamedTuple):
    """The volts (2, points, V) and amps (2, branches, V) before the last two moves of a device, the later first, of variants that moved so often; and how
    far the volts of those two positions lie `away_v` (2, points, V) from the last, of variants that rattle."""

    volts: Floats
    amps: Floats
    away_v: Floats


@compiled
def remember(rattle: Rattle, which: Ints, volts: Floats, amps: Floats) -> None:
    """Keep the position that devices of some variants are leaving."""
    for before, now in ((rattle.volts, volts), (rattle.amps, amps)):
        for n in range(len(now)):
            for v in which:
                before[1, n, v] = before[0, n, v]
                before[0, n, v] = now[n, v]


@compiled
def over_time(rattle: Rattle, v: int, chance: Floats, volts: Floats, amps: Floats) -> None:
    """Make of the volts and amps of a variant that rattles the means over its last three positions, and keep how far two of them lie from the last.

    How long a device stays in each is not known, but it is the same for all who read: every machine has shares of its own, cut by
    `chance` (2, V).
    """
    least, most = min(chance[0, v], chance[1, v]), max(chance[0, v], chance[1, v])
    for n in range(len(volts)):
        for k in range(2):
            rattle.away_v[k, n, v] = rattle.volts[k, n, v] - volts[n, v]
    for before, now in ((rattle.volts, volts), (rattle.amps, amps)):
        for n in range(len(now)):
            now[n, v] = least * now[n, v] + ((most - least) * before[0, n, v] + (1.0 - most) * before[1, n, v])
