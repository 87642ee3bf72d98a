"""A new fuse of the same rating, fitted once: whether it holds says whether what blew the old one is still there, drawn or not."""

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.network import Network
from iron_probe.core.diagnose.ensemble import Hypothesis
from iron_probe.core.diagnose.fault_mode import FaultMode
from iron_probe.core.diagnose.fuse_blown import opens_share
from iron_probe.core.solve.operate import solve_as_drawn, solve_state

HELD = np.array([[0.9, 0.1], [0.01, 0.99]])
"""Chance of what a new fuse does (blows, holds; columns) where a drawn short blows it in that state, and where none does (rows; common practice)."""


LOADED = 0.95
"""From this share of the most current a fuse carries in some states on, it is loaded as in that one."""


def holds(network: Network, hypotheses: Sequence[Hypothesis], fuse: str, state: str, variants: int) -> Floats:
    """Whether a new fuse would hold in a state, 0 or 1, for every variant, so many of each hypothesis."""
    modes = tuple(dict.fromkeys(m for h in hypotheses for m in h.modes if m.opened == fuse))
    blowing = {m for m, blows in zip(modes, blown_in(network, modes, fuse, state), strict=True) if blows}
    opens = [
        any(m.opened == fuse and m in blowing for m in h.modes) for h in hypotheses
    ]  # few have opened it: the others are not looked up
    return np.repeat(1.0 - np.array(opens), variants)


def telling_states(network: Network, modes: Sequence[FaultMode], fuse: str, states: Sequence[str]) -> tuple[str, ...]:
    """The states in which most of the shorts that have opened a fuse would blow a new one, and of these those in which it is loaded most: what is
    switched off blows none, and what no drawing shows may lie behind any of what it feeds."""
    mine = tuple(m for m in modes if m.opened == fuse)
    counts = {s: sum(blown_in(network, mine, fuse, s)) for s in states}
    telling = [s for s in states if counts[s] == max(counts.values())]
    loads_a = {s: abs(float(solve_as_drawn(network, s).current(fuse)[0])) for s in telling}
    return tuple(s for s in telling if loads_a[s] >= LOADED * max(loads_a.values()))


@lru_cache(maxsize=4096)
def blown_in(network: Network, modes: tuple[FaultMode, ...], fuse: str, state: str) -> tuple[bool, ...]:
    """Which of some faults that have opened a fuse would open a new one while a state is held."""
    if not modes:
        return ()
    values = np.concatenate([m.put_in(network.nominal, np.array([0.5])) for m in modes], axis=1)
    values[network.row[fuse, "r_ohm"]] = network.nominal[network.row[fuse, "r_ohm"]]
    element = network.sheet.element(fuse)
    assert isinstance(element, Fuse)
    amps = np.abs(solve_state(network, state, values).amps[network.find_branch(fuse)])
    return tuple(bool(a > element.rating_a * opens_share(element)) for a in amps)
