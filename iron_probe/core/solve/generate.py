"""How alternators and rectifiers answer: excited or not, holding their voltage, at the limit of their speed, or blocked."""

import numpy as np

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.circuit.charging import SET_V, Alternator
from iron_probe.core.circuit.network import Generator
from iron_probe.core.solve.stamp import DevicePositions, Stamper, full_output

SETTLED_V = 1e-3
"""A regulator is settled when its voltage moves less than this [V] between rounds."""
IGNITION_SHARE = 0.35
"""Share of system voltage at the ignition terminal from which a regulator is awake (common practice)."""
EXCITING_A = 0.04
"""Current into the lamp terminal that excites a field before the machine charges [A]: the charge lamp's (common practice)."""
BUS_SHARE = 0.6
"""Share of system voltage the one-wire line rests at, at the least, while its master is there (ISO 17987-4: recessive; from memory)."""
DEFAULT_V = 13.5
"""What a commanded 12 V machine holds by itself when the bus is silent [V] (13.5 to 14 V, lamp on: common practice)."""
BLIND_V = 1.3
"""How far its own output must stand over its sense wire before a 12 V regulator no longer believes the wire (common practice)."""
LOST_A, LOST_V = 0.02, 1.2
"""Under this current [A] no battery is there to hold the volts, and a 12 V machine then swings so far over what it is asked to hold
(15 V and more at the loads: common practice)."""
LEAST_DUTY, DUTY_STEP = 0.03, 0.01
"""The least share of the time a resting regulator still lets field current flow, and what counts as a change of it."""
PAST_SHARE = 0.45
"""Share of full field that, fed past the regulator, is more than it can take back (common practice)."""
FIELD_SHARE = 0.1
"""Least share of full field that lets a machine with an outside regulator charge."""


def regulate(stamper: Stamper, values: Floats, where: DevicePositions, volts: Floats, amps: Floats) -> Bools:
    """Bring every generator in line with the voltages found; which variants (V,) changed."""
    net = stamper.network
    changed = np.zeros(values.shape[1], dtype=bool)
    blocks = net.sheet.system_v / 12
    alone_v = LOST_V * blocks * (np.abs(amps[stamper.batteries]) < LOST_A).all(axis=0)
    for k, g in enumerate(net.generators):
        on = where.charging[k]
        if not on.any():
            continue
        full_on, most = _any(values, g, +1) | _fed_past(stamper, values, g, amps), values[g.most_v]
        sensed = volts[g.sense] - volts[g.ground]
        asked = values[g.set_v]
        if g.bus is not None and g.deaf is not None:  # a silent bus leaves it to itself, and so does a unit that never answers
            heard = (volts[g.bus] - volts[g.ground] > BUS_SHARE * net.sheet.system_v) & (values[g.deaf] == 0)
            commanded = stamper.commanded_v[k]
            asked = np.where(heard, asked if commanded is None else commanded / SET_V * asked, DEFAULT_V / SET_V * asked)
        target = np.where(full_on, most, asked + alone_v)
        own = volts[net.start[g.branch]] - volts[net.end[g.branch]]
        if g.field is None:  # an outside regulator knows nothing but its own feed
            sensed = np.maximum(sensed, own - BLIND_V * blocks)
        r = values[net.value[g.branch]]
        given = -amps[g.branch]
        limit = full_output(g, stamper.rpm, values) * field_share(g, values, volts, stamper, where)
        runs = on & ~where.limited[k] & ~where.blocked[k]
        emf = np.where(full_on, most, np.clip(where.emf[k] + (target - sensed), 0.0, most))
        over, under = runs & (given > limit * (1 + 1e-6)), runs & (given < -1e-6)
        freed = where.limited[k] & ((sensed > target + SETTLED_V) | (own + limit * r > most))
        back = where.blocked[k] & (sensed < target - SETTLED_V)
        moved = runs & (np.abs(emf - where.emf[k]) > SETTLED_V)
        drift = where.limited[k] & (np.abs(limit - where.limit[k]) > 0.01)
        where.emf[k] = np.where(
            freed, np.minimum(own + limit * r, most), np.where(back, own, np.where(runs & ~over & ~under, emf, where.emf[k]))
        )
        where.limited[k] = (where.limited[k] & ~freed) | over
        where.blocked[k] = (where.blocked[k] & ~back) | under
        where.limit[k] = limit
        changed |= _modulate(stamper, values, where, g, np.where(where.blocked[k], 0.0, np.where(where.limited[k], limit, given)), limit)
        changed |= on & (over | under | freed | back | moved | drift)
    return changed


def excited(stamper: Stamper, values: Floats, where: DevicePositions, volts: Floats) -> Bools:
    """Which generators (generators, V) are excited, given the voltages found and whether they were already."""
    net = stamper.network
    on = np.zeros_like(where.charging)
    for k, g in enumerate(net.generators):
        element = g.element
        turns = stamper.rpm * (values[g.slip] if g.slip is not None else 1.0)
        dead = (
            values[g.stuck[0]] < 0 if g.field is not None else _any(values, g, -1)
        )  # a dead regulator outside drives no field: another way may
        able = (turns >= element.cut_in_rpm) & ~dead
        if isinstance(element, Alternator):
            if g.field is not None:
                able &= field_share(g, values, volts, stamper, where) > FIELD_SHARE
            else:
                able &= _woken(element, g, values, where.charging[k], volts, net.sheet.system_v) | _excites_itself(element, turns)
        on[k] = able
    return on


def _woken(element: Alternator, g: Generator, values: Floats, charging: Bools, volts: Floats, system_v: float) -> Bools:
    """Whether its lamp or its ignition terminal excites it (V,), as its design has it."""
    case, never = volts[g.ground], np.zeros(charging.shape, dtype=bool)
    by_ignition = volts[g.ignition] - case > IGNITION_SHARE * system_v if g.ignition is not None else never
    by_lamp = never
    if g.lamp is not None and g.exciter_ohm is not None:
        by_lamp = ((volts[g.lamp] - case) / values[g.exciter_ohm] > EXCITING_A) | charging
    if element.woken_by == "ignition" or g.lamp is None:
        return by_ignition
    if element.woken_by == "lamp" or g.ignition is None:
        return by_lamp
    if g.design is None:
        return by_ignition | by_lamp
    return by_ignition | (by_lamp & (values[g.design] < 1.0))


def _excites_itself(element: Alternator, turns: Floats | float) -> Bools | bool:
    """Whether its residual magnetism is enough at a speed (V,); no small wire at all leaves it nothing else."""
    alone = element.woken_by == "itself" or not (element.ig or element.l or element.f)
    if alone:
        return True
    return turns >= element.self_excites_rpm if element.self_excites_rpm else False


def field_share(g: Generator, values: Floats, volts: Floats, stamper: Stamper, where: DevicePositions) -> Floats:
    """Share (V,) of full field current that would flow with an outside regulator fully on; 1 with the regulator inside."""
    if g.field is None:
        return np.ones(values.shape[1])
    net = stamper.network
    across = np.abs(volts[net.start[g.field]] - volts[net.end[g.field]])
    duty = where.duty[stamper.drive_of[g.element.id]] if len(stamper.drives) else 1.0
    return np.asarray(np.clip(across / duty / (0.9 * values[g.set_v]), 0.0, 1.0))


def _fed_past(stamper: Stamper, values: Floats, g: Generator, amps: Floats) -> Bools:
    """Whether field current enough for PAST_SHARE of its output and more flows past an outside regulator (V,): through a lead, a wire on ground."""
    if g.field is None or g.field_ohm is None or g.element.id not in stamper.drive_of:
        return np.zeros(values.shape[1], dtype=bool)
    driven_a = np.abs(amps[stamper.drives[stamper.drive_of[g.element.id]]])
    past_a = np.abs(amps[g.field]) - driven_a
    return np.asarray((past_a > driven_a) & (past_a * values[g.field_ohm] > PAST_SHARE * values[g.set_v]))


def _modulate(stamper: Stamper, values: Floats, where: DevicePositions, g: Generator, gives_a: Floats, limit_a: Floats) -> Bools:
    """Let an outside regulator hold the field at what the output asks, unless it is stuck full on; which variants (V,) changed."""
    if g.field is None or g.element.id not in stamper.drive_of:
        return np.zeros(values.shape[1], dtype=bool)
    k = stamper.drive_of[g.element.id]
    asked = np.clip(gives_a / np.maximum(limit_a, 1e-3), LEAST_DUTY, 1.0)
    duty = np.where((values[stamper.drive_stuck[k]] > 0) | ~where.charging[stamper.network.generators.index(g)], 1.0, asked)
    moved = np.abs(duty - where.duty[k]) > DUTY_STEP
    where.duty[k] = np.where(moved, duty, where.duty[k])
    return np.asarray(moved)


def _any(values: Floats, g: Generator, sign: int) -> Bools:
    return np.any([np.sign(values[row]) == sign for row in g.stuck], axis=0)
