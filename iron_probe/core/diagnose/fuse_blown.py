"""What a dead short does to its fuse: at which severities it has opened it, and at which the fuse still holds."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.faults import FUSE_HOLDS, OPEN_OHM, Change
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
"""Up to so many times over or under that a fuse may have opened or held: how long the state was held is not known (common practice)."""
TRIED, BETWEEN = 5, 41
"""Shares of the severities that are solved, and into how many what the fuse carries is drawn out between them."""


def opens_share(fuse: Fuse) -> float:
    """The share of its rating from which a fuse opens while a state is held."""
    return OPENS_AT[fuse.make]


def with_fuse_blown(network: Network, modes: Sequence[FaultMode]) -> list[FaultMode]:
    """The modes, each that blows as two where its severities leave both open: with the fuse open that it overloads most, and with it whole.

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
    worst = int(loaded.max(axis=1).argmax())
    shares = np.linspace(0, 1, BETWEEN)
    load = np.exp(np.interp(shares, np.linspace(0, 1, TRIED), np.log(np.maximum(loaded[worst], 1e-9))))
    opens, holds = load > 1 / EITHER_WAY, load < EITHER_WAY
    if not opens.any():
        return [mode]
    fuse = fuses[worst].id
    opened = Effect(network.row[fuse, "r_ohm"], Change.SET, OPEN_OHM, 0.0)
    blown = replace(_within(mode, shares, opens), effects=(*mode.effects, opened), opened=fuse)
    if not holds.any():
        return [blown]
    whole = _within(mode, shares, holds)
    both = blown.weight + whole.weight
    return [
        replace(blown, weight=blown.weight * mode.weight / both),
        replace(whole, name=mode.name + FUSE_HOLDS, weight=whole.weight * mode.weight / both),
    ]


def _within(mode: FaultMode, shares: Floats, where: Bools) -> FaultMode:
    """The mode over the part of its severities marked by `where`, its weight in proportion."""
    mine = shares[where]
    least, most = mode.severity(np.array([mine.min(), mine.max()]))
    return replace(mode, least=float(least), most=float(most), weight=mode.weight * len(mine) / len(shares))
