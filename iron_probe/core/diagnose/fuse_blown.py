"""What a dead short does to its fuse: at which severities it has opened it, and at which the fuse still holds."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.faults import FUSE_WHOLE, OPEN_OHM, SECOND_FUSE, Change
from iron_probe.core.circuit.fuses import FuseKind
from iron_probe.core.circuit.network import Network
from iron_probe.core.diagnose.fault_mode import Effect, FaultMode
from iron_probe.core.solve.operate import solve_state

OPENS_AT: dict[FuseKind, float] = {
    "regular": 1.9, "mini": 1.9, "low_profile": 1.9, "glass": 2.2, "maxi": 2.7, "link": 2.9, "cartridge": 3.5, "breaker": 4.0,
}  # fmt: skip
"""Share of its rating from which a fuse of a kind opens while a state is held, a few seconds (ISO 8820-3 for blades, from memory; others
common practice)."""
EITHER_WAY = 1.5
"""Up to so many times over or under that a fuse may have opened or held, and that of two in a row either may have opened first: how long the
state was held is not known (common practice)."""
TRIED, BETWEEN = 5, 41
"""Shares of the severities that are solved, and into how many what the fuse carries is drawn out between them."""


def opens_share(fuse: Fuse) -> float:
    """The share of its rating from which a fuse opens while a state is held."""
    return OPENS_AT[fuse.make]


def with_fuse_blown(network: Network, modes: Sequence[FaultMode]) -> list[FaultMode]:
    """The modes, each that blows once for all that its severities leave open: with the fuse open that it overloads most, with that one whole,
    and with the next one open that it overloads nearly as far.

    Those that overload none stay as they are.
    """
    blowing = [m for m in modes if m.blows]
    fuses = [(n, o) for n, o in enumerate(network.owners) if isinstance(o, Fuse)]
    if not blowing or not fuses:
        return list(modes)
    tried = np.linspace(0, 1, TRIED)
    values = np.concatenate([m.put_in(network.nominal, tried) for m in blowing], axis=1)
    numbers = [n for n, _ in fuses]
    carried_a = np.max([np.abs(solve_state(network, s, values).amps[numbers]) for s in network.sheet.states], axis=0)
    loaded = carried_a / np.array([f.rating_a * opens_share(f) for _, f in fuses])[:, None]
    by_mode = {(m.element, m.name): loaded[:, k * TRIED : (k + 1) * TRIED] for k, m in enumerate(blowing)}
    found: list[FaultMode] = []
    for mode in modes:
        load = by_mode.get((mode.element, mode.name))
        found += [mode] if load is None else _both_ways(network, mode, load, [f for _, f in fuses])
    return found


def _both_ways(network: Network, mode: FaultMode, loaded: Floats, fuses: Sequence[Fuse]) -> list[FaultMode]:
    """A mode by what its fuse does, from how far it loads each of some fuses (fuses, TRIED), 1 where it opens."""
    worst, second = (int(k) for k in np.argsort(-loaded.max(axis=1), kind="stable")[[0, min(1, len(fuses) - 1)]])
    shares = np.linspace(0, 1, BETWEEN)
    load, beside = (np.exp(np.interp(shares, np.linspace(0, 1, TRIED), np.log(np.maximum(loaded[k], 1e-9)))) for k in (worst, second))
    opens, holds, other = load > 1 / EITHER_WAY, load < EITHER_WAY, beside > np.maximum(load, 1) / EITHER_WAY
    if not opens.any():
        return [mode]
    found = [_opening(network, _within(mode, shares, opens), fuses[worst].id)]
    if holds.any():
        found.append(replace(_within(mode, shares, holds), name=mode.name + FUSE_WHOLE))
    if second != worst and other.any():
        found.append(replace(_opening(network, _within(mode, shares, other), fuses[second].id), name=mode.name + SECOND_FUSE))
    every = sum(m.weight for m in found)
    return [replace(m, weight=m.weight * mode.weight / every) for m in found]


def _opening(network: Network, mode: FaultMode, fuse: str) -> FaultMode:
    """The mode with a fuse opened by it."""
    opened = Effect(network.row[fuse, "r_ohm"], Change.SET, OPEN_OHM, 0.0)
    return replace(mode, effects=(*mode.effects, opened), opened=fuse)


def _within(mode: FaultMode, shares: Floats, where: Bools) -> FaultMode:
    """The mode over the part of its severities marked by `where`, its weight in proportion."""
    mine = shares[where]
    least, most = mode.severity(np.array([mine.min(), mine.max()]))
    return replace(mode, least=float(least), most=float(most), weight=mode.weight * len(mine) / len(shares))
