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
from iron_probe.core.solve.elimination import Plan, Reduced, own_resistances, plan_elimination, point_volts, reduce_network
from iron_probe.core.solve.generate import IGNITION_SHARE, excited, regulate
from iron_probe.core.solve.solution import Solution
from iron_probe.core.solve.stamp import DevicePositions, Stamper

POINT_LEAK_S = 1e-9
"""Conductance [S] from every point to battery minus: damp insulation, which makes a floating wire determinate."""

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


def point_leaks(points: int) -> Floats:
    """Conductance (points,) [S] from each point to battery minus: no two alike, so that two loose wires never look like one."""
    return np.asarray(POINT_LEAK_S * (1 + np.arange(points) / 997))


@lru_cache(maxsize=256)
def _plan(points: int, reference: int, plus: int, pairs: tuple[tuple[int, int], ...], fed: bool) -> Plan:
    to_plus = tuple((p, plus) for p in range(points) if fed and p not in (plus, reference))
    inner = [(p - (p > reference), q - (q > reference)) for p, q in (*pairs, *to_plus) if reference not in (p, q) and p != q]
    return plan_elimination(points - 1, inner, last=[plus - (plus > reference)])


class _Equations:
    """Branches gathered into the edge slots of a plan: point numbers with the reference left out.

    `fed` makes room for a leak from battery plus to every point; it doubles the work, so it is only taken when some
    variant has one.
    """

    def __init__(self, network: Network, fed: bool) -> None:
        ref = network.reference
        pairs = tuple(sorted({(int(min(a, b)), int(max(a, b))) for a, b in zip(network.start, network.end, strict=True)}))
        self.plan = _plan(len(network.points), ref, network.plus, pairs, fed)
        self.keep = np.array([p for p in range(len(network.points)) if p != ref])
        inner = {int(p): k for k, p in enumerate(self.keep)}
        self.network = network
        self.to_ground = [(n, inner[b if a == ref else a]) for n, (a, b) in self._ends() if (a == ref) != (b == ref)]
        self.between = [(n, self.plan.slot_of(inner[a], inner[b])) for n, (a, b) in self._ends() if ref not in (a, b)]
        plus = inner[network.plus]
        self.feed_points = np.array([k for k in range(len(self.keep)) if fed and k != plus], dtype=np.int64)
        self.feed_slots = np.array([self.plan.slot_of(int(k), plus) for k in self.feed_points], dtype=np.int64)
        self.leak_rows = network.leak_rows[self.keep]
        self.damp = point_leaks(len(network.points))[self.keep, None]
        self.feed_rows = network.supply_leak_rows[self.keep][self.feed_points]

    def _ends(self) -> list[tuple[int, tuple[int, int]]]:
        return [(n, (int(a), int(b))) for n, (a, b) in enumerate(zip(self.network.start, self.network.end, strict=True))]

    def solve(self, values: Floats, conductance: Floats, source: Floats) -> tuple[Floats, Reduced]:
        """Point voltages (points, V) with the reference put back at 0 V, and the reduced circuit."""
        variants = values.shape[1]
        ground = self.damp + values[self.leak_rows]
        for branch, point in self.to_ground:
            ground[point] += conductance[branch]
        edge = np.zeros((self.plan.edges, variants))
        for branch, slot in self.between:
            edge[slot] += conductance[branch]
        if len(self.feed_slots):
            edge[self.feed_slots] += values[self.feed_rows]
        injected = np.zeros((len(self.network.points), variants))
        for n in np.flatnonzero(source.any(axis=1)):
            injected[self.network.start[n]] -= source[n]
            injected[self.network.end[n]] += source[n]
        reduced = reduce_network(self.plan, edge, ground)
        volts = np.zeros((len(self.network.points), variants))
        volts[self.keep] = point_volts(reduced, injected[self.keep])
        return volts, reduced


@lru_cache(maxsize=128)
def _equations(network: Network, fed: bool) -> _Equations:
    return _Equations(network, fed)


@lru_cache(maxsize=512)
def _stamper(network: Network, state: str) -> Stamper:
    return Stamper(network, state)


def solve_state(network: Network, state: str, values: Floats | None = None) -> Solution:
    """Solve `network` in `state` for every column of `values` (parameters, V); nominal values when none are given.

    Raises SolveError when the state is not on the sheet.
    """
    network.sheet.state(state)
    if values is None:
        values = network.nominal[:, None]
    stamper, equations = _stamper(network, state), _equations(network, bool(values[network.supply_leak_rows].any()))
    variants = values.shape[1]
    where = stamper.at_rest(values)
    volts = np.zeros((len(network.points), variants))
    amps = np.zeros((len(network.branches), variants))
    own_ohm = np.zeros((len(network.points), variants))
    closed = np.zeros(amps.shape, dtype=bool)
    away_v = np.zeros((2, *volts.shape))
    before = [(np.zeros_like(volts), np.zeros_like(amps)) for _ in range(2)]
    chance = values[np.flatnonzero(network.spread)[:2]] * WRAPS % 1.0
    moves = np.zeros((len(network.coils) + len(network.units) + len(network.generators), variants), dtype=np.int64)
    rounds = np.zeros(variants, dtype=np.int64)
    chatter = np.zeros(variants, dtype=bool)
    active = np.arange(variants)
    for _ in range(MOST_ROUNDS):
        whole = len(active) == variants
        held, here = (values, where) if whole else (values[:, active], where.take(active))
        conductance, source = stamper.fill(held, here)
        found, reduced = equations.solve(held, conductance, source)
        flow = conductance * (found[network.start] - found[network.end]) + source
        rounds[active] += 1
        bending, rough = _bend(stamper, held, here, found, flow)
        moved = _move(stamper, held, here, found, flow, ~rough)
        moves[:, active] += moved
        here.motor_runs &= ~moved[: len(network.coils)].any(axis=0)  # a coil is quicker than the motor: it feels the inrush
        shaking = (moves[:, active] >= MOVES_THAT_CHATTER).any(axis=0)
        done = shaking | ~(bending | moved.any(axis=0))
        if done.any():
            ended = active[done]
            volts[:, ended], amps[:, ended] = found[:, done], flow[:, done]
            closed[:, ended] = (conductance[:, done] > 0) | (source[:, done] != 0)
            own_ohm[np.ix_(equations.keep, ended)] = own_resistances(reduced.take(done))
        ending = active[shaking]
        chatter[ending] = True
        _over_time(volts, amps, away_v, before, ending, chance)
        left = moved.any(axis=0)  # the position a device is leaving: one of those a rattle goes through
        for older, newer in zip(before[1], before[0], strict=True):
            older[:, active[left]] = newer[:, active[left]]
        before[0][0][:, active[left]], before[0][1][:, active[left]] = found[:, left], flow[:, left]
        if not whole:
            where.put(active, here)
        active = active[~done]
        if not len(active):
            break
    else:
        volts[:, active], amps[:, active] = found[:, ~done], flow[:, ~done]
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
