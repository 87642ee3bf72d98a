"""How alternators and rectifiers answer: excited or not, holding their voltage, at the limit of their speed, or blocked; in compiled code."""

from typing import Any

from iron_probe.core.arrays import Bools, Floats, Ints
from iron_probe.core.solve.compiled import compiled
from iron_probe.core.solve.devices import Devices, Positions, Records

IGNITION_SHARE = 0.35
"""Share of system voltage at the ignition terminal from which a regulator is awake (common practice)."""
SETTLED_V = 1e-3
"""A regulator is settled when its voltage moves less than this [V] between rounds."""
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


@compiled
def regulate(devices: Devices, values: Floats, where: Positions, which: Ints, volts: Floats, amps: Floats, changed: Bools) -> None:
    """Bring every generator of some variants in line with the voltages found; those that `changed` (V,) are marked."""
    lost_v = LOST_V * devices.system_v / 12
    for v in which:
        alone = True
        for k in range(len(devices.batteries)):
            alone &= abs(amps[devices.batteries[k].branch, v]) < LOST_A
        for k in range(len(devices.generators)):
            g = devices.generators[k]
            full_on = _full_on(g, devices.drives, values, v, amps)
            asked_v = values[g.most_v, v] if full_on else _asked_v(g, devices.system_v, values, v, volts) + alone * lost_v
            changed[v] |= _hold(devices, k, values, where, v, volts, amps, asked_v, full_on)


@compiled
def _hold(
    devices: Devices, k: int, values: Floats, where: Positions, v: int, volts: Floats, amps: Floats, asked_v: float, full_on: bool
) -> bool:
    """Let one generator of one variant go after the volts asked of it; whether it changed."""
    g = devices.generators[k]
    most_v, ohm, was_v = values[g.most_v, v], values[g.ohm, v], where.emf[k, v]
    on, limited, blocked = where.charging[k, v], where.limited[k, v], where.blocked[k, v]
    own_v = volts[devices.start[g.branch], v] - volts[devices.end[g.branch], v]
    sensed_v = volts[g.sense, v] - volts[g.ground, v]
    if g.field < 0:  # an outside regulator knows nothing but its own feed
        sensed_v = max(sensed_v, own_v - BLIND_V * devices.system_v / 12)
    gives_a, limit_a = -amps[g.branch, v], where.full[k, v]
    if g.field >= 0:
        limit_a *= _field_share(g, devices.start, devices.end, values, where.duty, v, volts)
    runs = on and not limited and not blocked
    over, under = runs and gives_a > limit_a * (1 + 1e-6), runs and gives_a < -1e-6
    freed = limited and (sensed_v > asked_v + SETTLED_V or own_v + limit_a * ohm > most_v)
    back = blocked and sensed_v < asked_v - SETTLED_V
    drifts = limited and abs(limit_a - where.limit[k, v]) > 0.01
    emf = most_v if full_on else min(max(was_v + (asked_v - sensed_v), 0.0), most_v)
    moves = runs and abs(emf - was_v) > SETTLED_V
    if freed:
        where.emf[k, v] = min(own_v + limit_a * ohm, most_v)
    elif back:
        where.emf[k, v] = own_v
    elif runs and not over and not under:
        where.emf[k, v] = emf
    limited, blocked = (limited and not freed) or over, (blocked and not back) or under
    where.limited[k, v], where.blocked[k, v], where.limit[k, v] = limited, blocked, limit_a
    changed = on and (over or under or freed or back or moves or drifts)
    if g.field >= 0 and g.drive >= 0:
        gives_a = 0.0 if blocked else limit_a if limited else gives_a
        driven = on and not values[devices.drives[g.drive].stuck, v] > 0
        changed |= _modulate(where.duty, g.drive, v, max(gives_a / max(limit_a, 1e-3), LEAST_DUTY) if driven else 1.0)
    return changed


@compiled
def _asked_v(g: Any, system_v: float, values: Floats, v: int, volts: Floats) -> float:
    """Volts a generator is asked to hold; a silent bus leaves it to itself, and so does a unit that never answers."""
    set_v = values[g.set_v, v]
    if g.bus < 0 or g.deaf < 0:
        return set_v
    heard = volts[g.bus, v] - volts[g.ground, v] > BUS_SHARE * system_v and values[g.deaf, v] == 0
    return (g.told if heard else g.untold) * set_v


@compiled
def _full_on(g: Any, drives: Records, values: Floats, v: int, amps: Floats) -> bool:
    """Whether a regulator is stuck full on, or field current enough for PAST_SHARE of its output and more flows past one outside: through a lead, a wire
    on ground."""
    if values[g.stuck, v] > 0 or values[g.stuck_outside, v] > 0:
        return True
    if g.field < 0 or g.drive < 0:
        return False
    driven_a = abs(amps[drives[g.drive].branch, v])
    past_a = abs(amps[g.field, v]) - driven_a
    return past_a > driven_a and past_a * values[g.field_ohm, v] > PAST_SHARE * values[g.set_v, v]


@compiled
def excited(devices: Devices, k: int, values: Floats, where: Positions, v: int, volts: Floats) -> bool:
    """Whether a generator of a variant is excited, given the voltages found and whether it was already."""
    g = devices.generators[k]
    turns = devices.rpm * (values[g.slip, v] if g.slip >= 0 else 1.0)
    if turns < g.cut_in_rpm or values[g.stuck, v] < 0:
        return False
    if g.field >= 0:
        share = _field_share(g, devices.start, devices.end, values, where.duty, v, volts)
        return not g.to_wake or share > FIELD_SHARE
    if values[g.stuck_outside, v] < 0:  # a dead one drives no field from outside: another way may
        return False
    return not g.to_wake or turns >= g.self_excites_rpm or _woken(g, devices.system_v, values, where.charging[k, v], v, volts)


@compiled
def _woken(g: Any, system_v: float, values: Floats, charging: bool, v: int, volts: Floats) -> bool:
    """Whether its lamp or its ignition terminal excites an alternator, as its design has it."""
    case_v = volts[g.ground, v]
    if g.by_ignition and volts[g.ignition, v] - case_v > IGNITION_SHARE * system_v:
        return True
    if not g.by_lamp or (g.design >= 0 and values[g.design, v] >= 1.0):
        return False
    return charging or (volts[g.lamp, v] - case_v) / values[g.exciter_ohm, v] > EXCITING_A


@compiled
def _field_share(g: Any, start: Ints, end: Ints, values: Floats, duty: Floats, v: int, volts: Floats) -> float:
    """Share of full field current that would flow with an outside regulator fully on."""
    across_v = abs(volts[start[g.field], v] - volts[end[g.field], v])
    on = duty[g.drive, v] if g.drive >= 0 else 1.0
    return min(across_v / on / (0.9 * values[g.set_v, v]), 1.0)


@compiled
def _modulate(duty: Floats, drive: int, v: int, asked: float) -> bool:
    """Let an outside regulator hold the field at what the output asks of it; whether it changed."""
    moves = abs(min(asked, 1.0) - duty[drive, v]) > DUTY_STEP
    if moves:
        duty[drive, v] = min(asked, 1.0)
    return moves
