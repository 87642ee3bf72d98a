"""The devices of a network in one operating state as records of numbers, and where each of them stands."""

from typing import Any, NamedTuple

import numpy as np

from iron_probe.core.arrays import Bools, Floats, Ints
from iron_probe.core.solve.compiled import compiled

Records = np.recarray[Any, Any]
"""An array of records of one of the kinds below. A `branch`, a point or another device is its number, any other number the row of a parameter; -1 is none."""

BATTERY = np.dtype([("branch", "i8"), ("ohm", "i8"), ("emf", "i8"), ("lag", "i8"), ("heavy", "i8"), ("charge", "i8")])
"""Rows of inner ohms, of open volts, of the volts that lag, of the current from which they do, and of the ohms charge meets."""

SWITCH = np.dtype([("branch", "i8"), ("stuck", "i8"), ("closed", "?")], align=True)
"""The row that says it is stuck, and whether the controls close it."""

CONTACT = np.dtype([("branch", "i8"), ("stuck", "i8"), ("coil", "i8"), ("rest", "?")], align=True)
"""Of a relay: the row that says it is stuck, its coil, and whether it is closed at rest."""

MOTOR = np.dtype([("branch", "i8"), ("ohm", "i8"), ("load", "i8"), ("back", "i8"), ("standstill", "f8")])
"""Rows of its ohms, of the current its load takes and of what turning costs in volts; what part of that current turns one that stands still."""

LAMP = np.dtype([("branch", "i8"), ("rated_v", "f8")])

DIODE = np.dtype([("branch", "i8"), ("forward", "i8"), ("fed", "?")], align=True)
"""The row of the volts it takes, and whether what feeds it is on."""

GENERATOR = np.dtype(
    [(name, "i8") for name in ("branch", "sense", "ground", "lamp", "ignition", "bus", "field", "exciter", "trio", "drive")]
    + [(name, "i8") for name in ("ohm", "set_v", "most_v", "slip", "stuck", "stuck_outside", "deaf", "field_ohm", "exciter_ohm", "design")]
    + [(name, "f8") for name in ("told", "untold", "cut_in_rpm", "self_excites_rpm")]
    + [(name, "?") for name in ("to_wake", "by_ignition", "by_lamp")],
    align=True,
)
"""Branches of its output, outside field, exciter and diode trio, points it senses and has its small wires at, and the drive that feeds its field.

`stuck` of its own and of an outside regulator: -1 dead, +1 full on; `to_wake` one that does not charge by turning alone, and what wakes it; from
`self_excites_rpm` on its own magnetism does; what its volts are multiplied by where a commanded one is `told` others, and where it is `untold`.
"""

DRIVE = np.dtype([("branch", "i8"), ("ohm", "i8"), ("feed", "i8"), ("ground", "i8"), ("field_ohm", "i8"), ("stuck", "i8")])
"""Of a regulator outside: the branch that drives the field, and the points that feed and ground it."""

COIL = np.dtype([("winding", "i8"), ("other", "i8"), ("pull_in", "i8"), ("drop_out", "i8")])
"""Branches of its windings, whose currents add, and the rows of where it pulls in and drops out."""

UNIT = np.dtype(
    [(name, "i8") for name in ("supply", "ground", "draw", "dead", "wakeful", "asleep")]
    + [("wakes_v", "f8"), ("lives_v", "f8"), ("awake", "?"), ("latches", "?")],
    align=True,
)
"""Of a module: points of supply and ground, the branch of what it draws, the rows of dead, kept awake and ohms asleep; the volts it wakes at and those it
lives down to, whether the controls wake it, and whether it stays off once it was lost."""

OUTPUT = np.dtype(
    [("branch", "i8"), ("unit", "i8"), ("ground", "i8"), ("stuck", "i8"), ("first", "i8"), ("past", "i8"), ("allowed", "?")], align=True
)
"""Of a module: the row that says it is stuck, whether the controls allow it, and what it needs: from `first` to before `past`."""

NEED = np.dtype([("point", "i8"), ("limit_v", "f8"), ("above", "?")], align=True)
"""Volts an output needs at a point: at least so many, or at most."""


class Devices(NamedTuple):
    """All devices of a network in a state; of every branch the row of its ohms and the points it runs between; which branches are `driving` current; the
    engine's speed."""

    system_v: float
    rpm: float
    value: Ints
    start: Ints
    end: Ints
    driving: Ints
    batteries: Records
    switches: Records
    contacts: Records
    motors: Records
    lamps: Records
    diodes: Records
    generators: Records
    drives: Records
    coils: Records
    units: Records
    outputs: Records
    needs: Records


class Positions(NamedTuple):
    """Where every device of V variants stands; the iteration writes in it.

    `coils` (coils, V) pulled in; `alive` (units, V) and whether it has `lived` in this state; `driving` (outputs, V); `motor_runs` (motors, V) turning, its back-EMF and torque both in a straight line with its speed;
    `diode_on` (diodes, V); `lamp_v` (lamps, V) voltage the filament was last taken at; `taking` (batteries, V) whether it takes charge, `straining` whether its load is heavy; `driven` (drives, V) whether an outside
    regulator has its feed, `duty` (drives, V) the share of the time it lets field current flow; of the generators
    (generators, V): `charging` excited, `limited` at the current its speed gives, `blocked` by its own diodes, `emf` and `limit` [V, A], and what
    its speed gives with a `full` field [A], which stays.
    """

    coils: Bools
    alive: Bools
    lived: Bools
    driving: Bools
    motor_runs: Bools
    diode_on: Bools
    lamp_v: Floats
    taking: Bools
    straining: Bools
    charging: Bools
    driven: Bools
    duty: Floats
    limited: Bools
    blocked: Bools
    emf: Floats
    limit: Floats
    full: Floats


@compiled
def at_rest(devices: Devices, values: Floats, full: Floats) -> Positions:
    """Every relay dropped out, every module still alive from before, motors standing, filaments warm; `full` (generators, V) as `Positions` has it."""
    variants = values.shape[1]
    units, drives, generators = len(devices.units), len(devices.drives), len(devices.generators)
    lamp_v, emf = np.empty((len(devices.lamps), variants)), np.empty((generators, variants))
    for k in range(len(lamp_v)):
        lamp_v[k] = devices.lamps[k].rated_v
    for k in range(generators):
        emf[k] = values[devices.generators[k].set_v]
    return Positions(
        coils=np.zeros((len(devices.coils), variants), dtype=np.bool_),
        alive=np.ones((units, variants), dtype=np.bool_),
        lived=np.zeros((units, variants), dtype=np.bool_),
        driving=np.zeros((len(devices.outputs), variants), dtype=np.bool_),
        motor_runs=np.zeros((len(devices.motors), variants), dtype=np.bool_),
        diode_on=np.zeros((len(devices.diodes), variants), dtype=np.bool_),
        lamp_v=lamp_v,
        taking=np.zeros((len(devices.batteries), variants), dtype=np.bool_),
        straining=np.zeros((len(devices.batteries), variants), dtype=np.bool_),
        charging=np.zeros((generators, variants), dtype=np.bool_),
        driven=np.zeros((drives, variants), dtype=np.bool_),
        duty=np.ones((drives, variants)),
        limited=np.zeros((generators, variants), dtype=np.bool_),
        blocked=np.zeros((generators, variants), dtype=np.bool_),
        emf=emf,
        limit=full.copy(),
        full=full,
    )
