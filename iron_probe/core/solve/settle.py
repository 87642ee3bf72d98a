"""How devices answer the voltages found: first what bends at once, then coils and modules; in compiled code, row by row of some variants."""

import numpy as np

from iron_probe.core.arrays import Bools, Floats, Ints
from iron_probe.core.solve.compiled import compiled
from iron_probe.core.solve.devices import Devices, Positions, Records
from iron_probe.core.solve.generate import IGNITION_SHARE, excited, regulate

LAMP_TOLERANCE_V = 1e-3
"""A filament is settled when its voltage moves less than this [V] between rounds."""


@compiled
def bend(
    devices: Devices, values: Floats, where: Positions, which: Ints, volts: Floats, drop_v: Floats, amps: Floats
) -> tuple[Bools, Bools]:
    """Bring motors, diodes, filaments, batteries, regulators and their feeds in line with the volts of points (points, V) and the volts and amps of branches
    (branches, V).

    Which variants (V,) changed at all, and which so that no coil should answer yet: motors and filaments are slower.
    """
    changed, rough = np.zeros(values.shape[1], dtype=np.bool_), np.zeros(values.shape[1], dtype=np.bool_)
    _diodes(devices.diodes, values, where.diode_on, which, drop_v, amps, rough)
    _batteries(devices.batteries, values, where.taking, where.straining, which, drop_v, amps, rough)
    for k in range(len(devices.drives)):
        drive = devices.drives[k]
        for v in which:
            driven = volts[drive.feed, v] - volts[drive.ground, v] > IGNITION_SHARE * devices.system_v
            rough[v] |= driven != where.driven[k, v]
            where.driven[k, v] = driven
    for k in range(len(devices.lamps)):
        across = drop_v[devices.lamps[k].branch]
        for v in which:
            changed[v] |= abs(abs(across[v]) - where.lamp_v[k, v]) > LAMP_TOLERANCE_V
            where.lamp_v[k, v] = abs(across[v])
    _motors(devices.motors, values, where.motor_runs, which, drop_v, amps, rough, changed)
    if devices.rpm:
        regulate(devices, values, where, which, volts, amps, changed)
    return changed | rough, rough


@compiled
def _diodes(diodes: Records, values: Floats, on: Bools, which: Ints, drop_v: Floats, amps: Floats, rough: Bools) -> None:
    for k in range(len(diodes)):
        diode = diodes[k]
        for v in which:
            conducts = amps[diode.branch, v] > 0 if on[k, v] else drop_v[diode.branch, v] > values[diode.forward, v]
            conducts &= diode.fed
            rough[v] |= conducts != on[k, v]
            on[k, v] = conducts


@compiled
def _batteries(
    batteries: Records, values: Floats, taking: Bools, straining: Bools, which: Ints, drop_v: Floats, amps: Floats, rough: Bools
) -> None:
    for k in range(len(batteries)):
        battery = batteries[k]
        for v in which:
            takes = drop_v[battery.branch, v] > values[battery.emf, v]
            strains = not takes and -amps[battery.branch, v] > values[battery.heavy, v]
            rough[v] |= takes != taking[k, v] or strains != straining[k, v]
            taking[k, v], straining[k, v] = takes, strains


@compiled
def _motors(
    motors: Records, values: Floats, running: Bools, which: Ints, drop_v: Floats, amps: Floats, rough: Bools, changed: Bools
) -> None:
    for k in range(len(motors)):
        motor = motors[k]
        for v in which:
            if rough[v]:  # a motor gets going after coils have felt its inrush
                continue
            load_a, stall_a = values[motor.load, v], drop_v[motor.branch, v] / values[motor.ohm, v]
            runs = amps[motor.branch, v] >= motor.standstill * load_a if running[k, v] else stall_a >= load_a
            changed[v] |= runs != running[k, v]
            running[k, v] = runs


@compiled
def move(devices: Devices, values: Floats, where: Positions, which: Ints, volts: Floats, amps: Floats) -> Bools:
    """Let coils, modules and what excites generators answer what was found in some variants; which devices (coils + units + generators, V) moved."""
    coils, units, generators = len(devices.coils), len(devices.units), len(devices.generators)
    moved = np.zeros((coils + units + generators, values.shape[1]), dtype=np.bool_)
    _pull(devices.coils, values, where.coils, where.motor_runs, which, amps, moved)
    _wake(devices.units, values, where.alive, where.lived, which, volts, moved[coils:])
    _drive(devices.outputs, devices.needs, values, where.alive, where.driving, which, volts, moved[coils:])
    for k in range(generators if devices.rpm else 0):
        for v in which:
            on = excited(devices, k, values, where, v, volts)
            moved[coils + units + k, v] = on != where.charging[k, v]
            where.charging[k, v] = on
    return moved


@compiled
def _pull(coils: Records, values: Floats, pulled: Bools, running: Bools, which: Ints, amps: Floats, moved: Bools) -> None:
    """Coils pull in and drop out; they are quicker than a motor, which then feels the inrush anew."""
    for k in range(len(coils)):
        coil = coils[k]
        for v in which:
            drive_a = abs(amps[coil.winding, v] + (amps[coil.other, v] if coil.other >= 0 else 0.0))
            pulls = drive_a > values[coil.drop_out, v] if pulled[k, v] else drive_a >= values[coil.pull_in, v]
            if pulls != pulled[k, v]:
                moved[k, v] = True
                pulled[k, v] = pulls
                running[:, v] = False


@compiled
def _wake(units: Records, values: Floats, alive: Bools, lived: Bools, which: Ints, volts: Floats, moved: Bools) -> None:
    """Modules live on their supply."""
    for k in range(len(units)):
        unit = units[k]
        for v in which:
            supply_v = volts[unit.supply, v] - volts[unit.ground, v]
            lives = supply_v >= (unit.lives_v if alive[k, v] else unit.wakes_v) and values[unit.dead, v] == 0
            if unit.latches:
                lives &= alive[k, v] or not lived[k, v]
            moved[k, v] |= lives != alive[k, v]
            alive[k, v] = lives
            lived[k, v] |= lives


@compiled
def _drive(
    outputs: Records, needs: Records, values: Floats, alive: Bools, driving: Bools, which: Ints, volts: Floats, moved: Bools
) -> None:
    """Outputs of modules answer the controls and the volts they need, unless they are stuck."""
    for k in range(len(outputs)):
        output = outputs[k]
        for v in which:
            drives = alive[output.unit, v] and output.allowed
            for n in range(output.first, output.past):
                seen_v = volts[needs[n].point, v] - volts[output.ground, v]
                drives &= seen_v >= needs[n].limit_v if needs[n].above else seen_v <= needs[n].limit_v
            stuck = values[output.stuck, v]
            drives = stuck > 0 or (stuck >= 0 and drives)
            moved[output.unit, v] |= drives != driving[k, v]
            driving[k, v] = drives
