"""Solving a machine in an operating state: the linear circuit, and its relays, starter, lamps and modules until they settle.

The controls are taken as just moved, with every relay still dropped out. Devices with hysteresis then move one round
at a time; a coil that keeps moving is not an error, it is the chatter a technician hears.
"""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import STANDSTILL_SHARE, Starter
from iron_probe.core.circuit.network import Network
from iron_probe.core.solve.columns import columns, put_columns
from iron_probe.core.solve.equations import equations
from iron_probe.core.solve.generate import IGNITION_SHARE, excited, regulate
from iron_probe.core.solve.solution import Solution
from iron_probe.core.solve.stamp import DevicePositions, Stamper

MOVES_THAT_CHATTER = 4
"""A device that has moved this often in one state without settling is chattering."""

MODULE_DROP_SHARE = 0.85
"""A live module stays alive down to this share of the voltage it wakes at."""

LAMP_TOLERANCE_V = 1e-3
"""A filament is settled when its voltage moves less than this [V] between rounds."""

WRAPS = 997.0
"""What two of a machine's values are multiplied by, whose fractions are then its chances: the same machine always has the same."""

MOST_ROUNDS = 80
"""Solves after which a variant that still moves is called chattering whatever moves it."""


@lru_cache(maxsize=512)
def _stamper(network: Network, state: str) -> Stamper:
    return Stamper(network, state)


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
    stamper, circuit = _stamper(network, state), equations(network, bool(values[network.supply_leak_rows].any()))
    variants = values.shape[1]
    where = stamper.at_rest(values)
    volts, amps = np.zeros((len(network.points), variants)), np.zeros((len(network.branches), variants))
    own_ohm, closed = np.zeros_like(volts), np.zeros(amps.shape, dtype=bool)
    away_v = np.zeros((2, *volts.shape))
    before = [(np.zeros_like(volts), np.zeros_like(amps)) for _ in range(2)]
    chance = values[np.flatnonzero(network.spread)[:2]] * WRAPS % 1.0
    moves = np.zeros((len(network.coils) + len(network.units) + len(network.generators), variants), dtype=np.int64)
    rounds = np.zeros(variants, dtype=np.int64)
    chatter = np.zeros(variants, dtype=bool)
    active, held, here = np.arange(variants), values, where.take(np.arange(variants))
    for _ in range(MOST_ROUNDS):
        conductance, source = stamper.fill(held, here)
        found, flow = circuit.solve(held, conductance, source)
        rounds[active] += 1
        bending, rough = _bend(stamper, held, here, found, flow)
        moved = _move(stamper, held, here, found, flow, ~rough)
        moves[:, active] += moved
        here.motor_runs &= ~moved[: len(network.coils)].any(axis=0)  # a coil is quicker than the motor: it feels the inrush
        shaking, moving = (moves[:, active] >= MOVES_THAT_CHATTER).any(axis=0), moved.any(axis=0)
        done = shaking | ~(bending | moving)
        ended, left = np.flatnonzero(done), np.flatnonzero(~done)
        if len(ended):
            at, drawn = active[ended], columns(conductance, ended)
            put_columns(volts, at, columns(found, ended))
            put_columns(amps, at, columns(flow, ended))
            put_columns(closed, at, (drawn > 0) | (columns(source, ended) != 0))
            put_columns(own_ohm, at, circuit.own_ohm(columns(held, ended), drawn))
            where.put(at, here.take(ended))
        ending = active[shaking]
        chatter[ending] = True
        _over_time(volts, amps, away_v, before, ending, chance)
        leaving, leaves = active[moving], np.flatnonzero(moving)  # the position a device is leaving: one of those a rattle goes through
        for older, newer, now in zip(before[1], before[0], (found, flow), strict=True):
            put_columns(older, leaving, columns(newer, leaving))
            put_columns(newer, leaving, columns(now, leaves))
        active = active[left]
        if not len(left):
            break
        if len(ended):
            held, here = columns(held, left), here.take(left)
    else:
        put_columns(volts, active, columns(found, left))
        put_columns(amps, active, columns(flow, left))
        where.put(active, here)
    chatter[active] = True
    busiest = moves[: len(network.coils)].argmax(axis=0) if len(network.coils) else np.full(variants, -1)
    return Solution(
        network=network, state=state, volts=volts, amps=amps, closed=closed, own_ohm=own_ohm, pulled_in=where.coils, chatter=chatter,
        away_v=away_v, chattering=np.where(chatter, busiest, -1), turning=_speed(stamper, values, where, amps, chatter), rounds=rounds,
    )  # fmt: skip


def _over_time(
    volts: Floats, amps: Floats, away_v: Floats, before: list[tuple[Floats, Floats]], ending: NDArray[np.int64], chance: Floats
) -> None:
    """Of the variants that rattle, the means over the last three positions, and how far two of them lie from the last.

    How long a device stays in each is not known, but it is the same for all who read: every machine has shares of its own, cut by
    `chance` (2, V).
    """
    shares = np.diff(np.sort(chance[:, ending], axis=0), axis=0, prepend=0.0, append=1.0)
    last, last_a = volts[:, ending], amps[:, ending]
    away_v[:, :, ending] = [v[:, ending] - last for v, _ in before]
    volts[:, ending] = shares[0] * last + sum(share * v[:, ending] for share, (v, _) in zip(shares[1:], before, strict=True))
    amps[:, ending] = shares[0] * last_a + sum(share * a[:, ending] for share, (_, a) in zip(shares[1:], before, strict=True))


def _bend(
    stamper: Stamper, values: Floats, where: DevicePositions, volts: Floats, amps: Floats
) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Bring motors, diodes, filaments and regulators in line with the voltages found.

    Which variants (V,) changed at all, and which so that no coil should answer yet: motors, filaments and regulators are slower.
    """
    net = stamper.network
    drop = volts[net.start] - volts[net.end]
    load, stall_a = values[stamper.motor_load], drop[stamper.motors] / values[net.value[stamper.motors]]
    runs = np.where(where.motor_runs, amps[stamper.motors] >= STANDSTILL_SHARE * load, stall_a >= load)
    conducts = np.where(where.diode_on, amps[stamper.diodes] > 0, drop[stamper.diodes] > values[stamper.diode_forward])
    conducts &= stamper.diode_fed[:, None]
    lamp_v = np.abs(drop[stamper.lamps])
    shifted = np.abs(lamp_v - where.lamp_v) > LAMP_TOLERANCE_V
    taking = drop[stamper.batteries] > values[stamper.battery_emf]
    strains = ~taking & (-amps[stamper.batteries] > values[stamper.battery_heavy])
    rough = (conducts != where.diode_on).any(axis=0) | (taking != where.taking).any(axis=0)
    rough |= (strains != where.straining).any(axis=0)
    changed = shifted.any(axis=0)
    where.diode_on, where.lamp_v, where.taking, where.straining = conducts, lamp_v, taking, strains
    if len(stamper.drives):
        driven = volts[stamper.drive_feed] - volts[stamper.drive_ground] > IGNITION_SHARE * net.sheet.system_v
        rough |= (driven != where.driven).any(axis=0)
        where.driven = driven
    runs = np.where(rough, where.motor_runs, runs)  # a motor gets going after coils have felt its inrush
    changed |= (runs != where.motor_runs).any(axis=0)
    where.motor_runs = runs
    if len(stamper.sources) and stamper.rpm:
        changed |= regulate(stamper, values, where, volts, amps)
    return changed | rough, rough


def _move(
    stamper: Stamper, values: Floats, where: DevicePositions, volts: Floats, amps: Floats, ready: NDArray[np.bool_]
) -> NDArray[np.bool_]:
    """Let coils and modules of the `ready` variants (V,) answer what was found; which devices (coils + units, V) moved."""
    net = stamper.network
    moved = np.zeros((len(net.coils) + len(net.units) + len(net.generators), values.shape[1]), dtype=bool)
    coils = where.coils.copy()
    for number, coil in enumerate(net.coils):
        drive = np.abs(sum(amps[w] for w in coil.windings))
        pulled = np.where(where.coils[number], drive > values[coil.drop_out], drive >= values[coil.pull_in])
        coils[number] = np.where(ready, pulled, where.coils[number])
    moved[: len(net.coils)] = coils != where.coils
    driving, alive = where.driving.copy(), where.alive.copy()
    place = 0
    for number, unit in enumerate(net.units):
        supply = volts[unit.supply] - volts[unit.ground]
        wakes = unit.element.alive_above_v
        limit = np.where(where.alive[number], wakes * MODULE_DROP_SHARE, wakes)
        lives = (supply >= limit) & (values[unit.dead] == 0)
        if unit.element.latches:
            lives &= where.alive[number] | ~where.lived[number]
        alive[number] = np.where(ready, lives, where.alive[number])
        for _, output, stuck in unit.outputs:
            active = alive[number] & stamper.output_allowed[place]
            for need in output.needs:
                seen = volts[net.point_row[need.point]] - volts[unit.ground]
                active &= seen >= need.above_v if need.above_v is not None else seen <= (need.below_v or 0.0)
            drives = np.where(values[stuck] > 0, True, np.where(values[stuck] < 0, False, active))
            driving[place] = np.where(ready, drives, where.driving[place])
            moved[len(net.coils) + number] |= driving[place] != where.driving[place]
            place += 1
        moved[len(net.coils) + number] |= alive[number] != where.alive[number]
    if len(stamper.sources) and stamper.rpm:
        on = np.where(ready, excited(stamper, values, where, volts), where.charging)
        moved[len(net.coils) + len(net.units) :] = on != where.charging
        where.charging = on
    where.coils, where.driving, where.alive = coils, driving, alive
    where.lived |= alive & ready
    return moved


def _speed(stamper: Stamper, values: Floats, where: DevicePositions, amps: Floats, chatter: NDArray[np.bool_]) -> Floats:
    """Starter speed (V,) as a share of its speed at rated volts and load: what its current is over that of standstill."""
    net = stamper.network
    speed = np.zeros(values.shape[1])
    for k, number in enumerate(stamper.motors):
        motor = net.owners[number]
        if not isinstance(motor, Starter):
            continue
        share = amps[number] / values[net.row[motor.id, "load_a"]]
        speed = np.maximum(speed, np.where(where.motor_runs[k], (share - STANDSTILL_SHARE) / (1 - STANDSTILL_SHARE), 0.0))
    return np.where(chatter, 0.0, speed)
