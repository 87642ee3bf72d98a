"""Each branch as a conductance and a source, for the positions its devices are in; in compiled code, row by row of some variants."""

from iron_probe.core.arrays import Bools, Floats, Ints
from iron_probe.core.solve.compiled import compiled
from iron_probe.core.solve.devices import Devices, Positions, Records

FILAMENT_EXPONENT = 0.45
"""Filament resistance goes with voltage to this power (incandescent lamp handbooks, from memory)."""

COLD_FILAMENT_SHARE = 1 / 12
"""Cold filament resistance as a share of hot (common practice)."""


@compiled
def stamp(devices: Devices, values: Floats, free: Floats, where: Positions, which: Ints, conductance: Floats, source: Floats) -> None:
    """Fill in the conductance [S] and source current [A] of every branch (branches, V) of some variants: current = conductance · drop + source.

    `free` (branches, V) [S] is what branches conduct that no device holds up. Sources of branches that drive nothing stay as they are: zero.
    """
    for n in range(len(free)):
        for v in which:
            conductance[n, v] = free[n, v]
    _batteries(devices.batteries, values, where.taking, where.straining, which, conductance, source)
    _switches(devices.switches, values, which, conductance)
    _contacts(devices.contacts, values, where.coils, which, conductance)
    _motors(devices.motors, values, where.motor_runs, which, conductance, source)
    _lamps(devices.lamps, where.lamp_v, which, conductance)
    _diodes(devices.diodes, values, where.diode_on, which, conductance, source)
    _generators(devices.generators, where, which, conductance, source)
    _drives(devices.drives, values, where.driven, where.duty, which, conductance)
    _modules(devices.units, values, which, conductance)
    for k in range(len(devices.outputs)):
        whole = conductance[devices.outputs[k].branch]
        for v in which:
            if not where.driving[k, v]:
                whole[v] = 0.0


@compiled
def _batteries(
    batteries: Records, values: Floats, taking: Bools, straining: Bools, which: Ints, conductance: Floats, source: Floats
) -> None:
    for k in range(len(batteries)):
        battery = batteries[k]
        for v in which:
            lag_v = values[battery.lag, v]
            if taking[k, v]:
                conductance[battery.branch, v] = 1.0 / values[battery.charge, v]
            elif not straining[k, v]:
                conductance[battery.branch, v] = 1.0 / (values[battery.ohm, v] + lag_v / values[battery.heavy, v])
            open_v = values[battery.emf, v] - (lag_v if straining[k, v] else 0.0)
            source[battery.branch, v] = -open_v * conductance[battery.branch, v]


@compiled
def _switches(switches: Records, values: Floats, which: Ints, conductance: Floats) -> None:
    """As the controls have them, unless they are stuck."""
    for k in range(len(switches)):
        switch = switches[k]
        for v in which:
            stuck = values[switch.stuck, v]
            if not (stuck > 0 or (switch.closed and stuck >= 0)):
                conductance[switch.branch, v] = 0.0


@compiled
def _contacts(contacts: Records, values: Floats, coils: Bools, which: Ints, conductance: Floats) -> None:
    """As their coils have them, unless they are stuck."""
    for k in range(len(contacts)):
        contact = contacts[k]
        for v in which:
            stuck = values[contact.stuck, v]
            pulled = stuck > 0 or (stuck >= 0 and coils[contact.coil, v])
            if pulled == contact.rest:
                conductance[contact.branch, v] = 0.0


@compiled
def _motors(motors: Records, values: Floats, runs: Bools, which: Ints, conductance: Floats, source: Floats) -> None:
    for k in range(len(motors)):
        motor = motors[k]
        for v in which:
            source[motor.branch, v] = 0.0
            if runs[k, v]:
                steep = values[motor.back, v] / (1 - motor.standstill)
                turning = 1.0 / (values[motor.ohm, v] + steep / values[motor.load, v])
                conductance[motor.branch, v] = turning
                source[motor.branch, v] = motor.standstill * steep * turning


@compiled
def _lamps(lamps: Records, lamp_v: Floats, which: Ints, conductance: Floats) -> None:
    for k in range(len(lamps)):
        lamp = lamps[k]
        for v in which:
            share = (abs(lamp_v[k, v]) / lamp.rated_v) ** FILAMENT_EXPONENT
            conductance[lamp.branch, v] /= max(share, COLD_FILAMENT_SHARE)


@compiled
def _diodes(diodes: Records, values: Floats, on: Bools, which: Ints, conductance: Floats, source: Floats) -> None:
    for k in range(len(diodes)):
        diode = diodes[k]
        for v in which:
            if not on[k, v]:
                conductance[diode.branch, v] = 0.0
            source[diode.branch, v] = -values[diode.forward, v] * conductance[diode.branch, v]


@compiled
def _generators(generators: Records, where: Positions, which: Ints, conductance: Floats, source: Floats) -> None:
    """Outputs as their volts or at their limit; the exciter until the machine charges, the trio from then on."""
    for k in range(len(generators)):
        g = generators[k]
        for v in which:
            charging, limited = where.charging[k, v], where.limited[k, v]
            if charging and not limited and not where.blocked[k, v]:
                source[g.branch, v] = -where.emf[k, v] * conductance[g.branch, v]
            else:
                conductance[g.branch, v] = 0.0
                source[g.branch, v] = -where.limit[k, v] if charging and limited else 0.0
            if g.exciter >= 0 and charging:
                conductance[g.exciter, v] = 0.0
            if g.trio >= 0 and not charging:
                conductance[g.trio, v] = 0.0


@compiled
def _drives(drives: Records, values: Floats, driven: Bools, duty: Floats, which: Ints, conductance: Floats) -> None:
    for k in range(len(drives)):
        drive = drives[k]
        for v in which:
            stuck = values[drive.stuck, v]
            holds = stuck > 0 or (driven[k, v] and stuck >= 0)  # what is burnt through lets go with its feed off no more than with it on
            choked_ohm = values[drive.field_ohm, v] * (1 / duty[k, v] - 1)
            conductance[drive.branch, v] = 1.0 / (values[drive.ohm, v] + choked_ohm) if holds else 0.0


@compiled
def _modules(units: Records, values: Floats, which: Ints, conductance: Floats) -> None:
    for k in range(len(units)):
        unit = units[k]
        for v in which:
            if values[unit.dead, v] != 0:
                conductance[unit.draw, v] = 0.0
            elif not (unit.awake or values[unit.wakeful, v] > 0):
                conductance[unit.draw, v] = 1.0 / values[unit.asleep, v]
