"""Solving a machine in an operating state: the linear circuit, and its relays, starter, lamps and modules until they settle.

The controls are taken as just moved, with every relay still dropped out. Devices with hysteresis then move one round
at a time; a coil that keeps moving is not an error, it is the chatter a technician hears.
"""

from functools import lru_cache
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Bools, Floats, Ints
from iron_probe.core.circuit.elements import STANDSTILL_SHARE, Starter
from iron_probe.core.circuit.network import Network
from iron_probe.core.solve.compiled import compiled
from iron_probe.core.solve.device_tables import devices_of, full_output
from iron_probe.core.solve.devices import Devices, at_rest
from iron_probe.core.solve.equations import equations
from iron_probe.core.solve.nodal import System, own_ohm, solve_some
from iron_probe.core.solve.rattle import Rattle, over_time, remember
from iron_probe.core.solve.settle import bend, move
from iron_probe.core.solve.solution import Solution
from iron_probe.core.solve.stamp import stamp

MOVES_THAT_CHATTER = 4
"""A device that has moved this often in one state without settling is chattering."""

WRAPS = 997.0
"""What two of a machine's values are multiplied by, whose fractions are then its chances: the same machine always has the same."""

TOGETHER = 60
"""Variants solved at a time: all their figures then stay near the processor (measured)."""

MOST_ROUNDS = 80
"""Solves after which a variant that still moves is called chattering whatever moves it."""


@lru_cache(maxsize=1024)
def solve_as_drawn(network: Network, state: str) -> Solution:
    """The machine as its sheet says it, solved once a state; SolveError as below."""
    return solve_state(network, state)


def solve_state(network: Network, state: str, values: Floats | None = None) -> Solution:
    """Solve `network` in `state` for every column of `values` (parameters, V); nominal values when none are given.

    Raises SolveError when the state is not on the sheet.
    """
    network.sheet.state(state)
    values = np.ascontiguousarray(network.nominal[:, None] if values is None else values)
    devices, system = devices_of(network, state), equations(network, bool(values[network.supply_leak_rows].any()))
    variants, points, branches = values.shape[1], len(network.points), len(network.branches)
    full = np.array([full_output(g, devices.rpm, values) for g in network.generators]).reshape(len(network.generators), variants)
    chance = values[np.flatnonzero(network.spread)[:2]] * WRAPS % 1.0
    found = Found(
        volts=np.empty((points, variants)), amps=np.empty((branches, variants)), closed=np.empty((branches, variants), dtype=bool),
        own_ohm=np.empty((points, variants)), away_v=np.zeros((2, points, variants)),
        pulled_in=np.empty((len(network.coils), variants), dtype=bool), running=np.empty((len(devices.motors), variants), dtype=bool),
        chattering=np.empty(variants, dtype=np.int64), chatter=np.empty(variants, dtype=bool), rounds=np.empty(variants, dtype=np.int64),
    )  # fmt: skip
    solve_all(devices, system, values, full, chance, found)
    return Solution(
        network=network, state=state, volts=found.volts, amps=found.amps, closed=found.closed, own_ohm=found.own_ohm, pulled_in=found.pulled_in,
        chatter=found.chatter, away_v=found.away_v, chattering=found.chattering, turning=_speed(network, values, devices, found), rounds=found.rounds,
    )  # fmt: skip


class Found(NamedTuple):
    """What is found of V variants, as a Solution has it; and the motors (motors, V) that are `running`."""

    volts: Floats
    amps: Floats
    closed: Bools
    own_ohm: Floats
    away_v: Floats
    pulled_in: Bools
    running: Bools
    chattering: Ints
    chatter: Bools
    rounds: Ints


@compiled
def solve_all(devices: Devices, system: System, values: Floats, full: Floats, chance: Floats, found: Found) -> None:
    """Solve all variants, some at a time; `full` (generators, V) [A] is what generators can give, `chance` (2, V) cuts the time of a rattle."""
    for low in range(0, values.shape[1], TOGETHER):
        high = min(low + TOGETHER, values.shape[1])
        some = _solve_together(devices, system, _taken(values, low, high), _taken(full, low, high), _taken(chance, low, high))
        for all_found, part in ((found.volts, some.volts), (found.amps, some.amps), (found.own_ohm, some.own_ohm)):
            _put(all_found, low, part)
        for all_set, some_set in ((found.closed, some.closed), (found.pulled_in, some.pulled_in), (found.running, some.running)):
            _put(all_set, low, some_set)
        for v in range(high - low):
            found.chattering[low + v], found.chatter[low + v], found.rounds[low + v] = some.chattering[v], some.chatter[v], some.rounds[v]
            if some.chatter[v]:  # only there anything swings
                for k in range(2):
                    for n in range(found.away_v.shape[1]):
                        found.away_v[k, n, low + v] = some.away_v[k, n, v]


@compiled
def _taken(rows: Floats, low: int, high: int) -> Floats:
    """Some variants' figures, side by side."""
    taken = np.empty((len(rows), high - low))
    for n in range(len(rows)):
        for v in range(high - low):
            taken[n, v] = rows[n, low + v]
    return taken


@compiled
def _put(rows: NDArray[Any], low: int, part: NDArray[Any]) -> None:
    """Put the figures of some variants in their place among those of all."""
    for n in range(len(rows)):
        for v in range(part.shape[1]):
            rows[n, low + v] = part[n, v]


@compiled
def _solve_together(devices: Devices, system: System, values: Floats, full: Floats, chance: Floats) -> Found:
    """Solve variants until each has settled or is known to chatter."""
    variants, points, branches = values.shape[1], len(system.places.damp) + 1, len(devices.value)
    where = at_rest(devices, values, full)
    volts, drop_v, amps = np.zeros((points, variants)), np.zeros((branches, variants)), np.zeros((branches, variants))
    free = _conductances(devices.value, values)
    conductance, source = np.zeros((branches, variants)), np.zeros((branches, variants))
    rattle = Rattle(np.empty((2, points, variants)), np.empty((2, branches, variants)), np.zeros((2, points, variants)))
    moves = np.zeros((len(devices.coils) + len(devices.units) + len(devices.generators), variants), dtype=np.int64)
    rounds, chatter, active = np.zeros(variants, dtype=np.int64), np.zeros(variants, dtype=np.bool_), np.arange(variants)
    leaves = np.empty(variants, dtype=np.int64)
    for _ in range(MOST_ROUNDS):
        stamp(devices, values, free, where, active, conductance, source)
        solve_some(system, devices.driving, active, values, conductance, source, volts, drop_v, amps)
        bent, rough = bend(devices, values, where, active, volts, drop_v, amps)
        moved = move(devices, values, where, active[~rough[active]], volts, amps)
        left = leaving = 0
        for v in active:  # those that go on are written over those that were looked at
            moves_now, shakes = False, False
            rounds[v] += 1
            for d in range(len(moved)):
                moves[d, v] += moved[d, v]
                moves_now |= moved[d, v]
                shakes |= moves[d, v] >= MOVES_THAT_CHATTER
            if shakes:
                chatter[v] = True
                over_time(rattle, int(v), chance, volts, amps)
            elif moves_now or bent[v]:
                if moves_now:
                    leaves[leaving] = v
                    leaving += 1
                active[left] = v
                left += 1
        remember(rattle, leaves[:leaving], volts, amps)
        active = active[:left]
        if not left:
            break
    for v in active:
        chatter[v] = True
    return Found(
        volts=volts, amps=amps, closed=_conducts(conductance, source), own_ohm=own_ohm(system, values, conductance), away_v=rattle.away_v,
        pulled_in=where.coils, running=where.motor_runs, chattering=_busiest(moves[: len(devices.coils)], chatter), chatter=chatter, rounds=rounds,
    )  # fmt: skip


@compiled
def _conductances(rows: Ints, values: Floats) -> Floats:
    """What branches of so many ohms conduct (branches, V) [S]."""
    whole = np.empty((len(rows), values.shape[1]))
    for n in range(len(rows)):
        for v in range(values.shape[1]):
            whole[n, v] = 1.0 / values[rows[n], v]
    return whole


@compiled
def _conducts(conductance: Floats, source: Floats) -> Bools:
    """Which branches carry current or drive it."""
    closed = np.empty((len(conductance), conductance.shape[1]), dtype=np.bool_)
    for n in range(len(closed)):
        for v in range(closed.shape[1]):
            closed[n, v] = conductance[n, v] > 0 or source[n, v] != 0
    return closed


@compiled
def _busiest(moves: Ints, chatter: Bools) -> Ints:
    """Number of the coil that moved most often in each variant that chatters, else -1."""
    busiest = np.full(len(chatter), -1, dtype=np.int64)
    for v in range(len(chatter)):
        for k in range(len(moves)):
            if chatter[v] and (busiest[v] < 0 or moves[k, v] > moves[busiest[v], v]):
                busiest[v] = k
    return busiest


def _speed(network: Network, values: Floats, devices: Devices, found: Found) -> Floats:
    """Starter speed (V,) as a share of its speed at rated volts and load: what its current is over that of standstill."""
    speed = np.zeros(values.shape[1])
    for k, number in enumerate(devices.motors.branch):
        motor = network.owners[number]
        if not isinstance(motor, Starter):
            continue
        share = found.amps[number] / values[network.row[motor.id, "load_a"]]
        speed = np.maximum(speed, np.where(found.running[k], (share - STANDSTILL_SHARE) / (1 - STANDSTILL_SHARE), 0.0))
    return np.where(found.chatter, 0.0, speed)
