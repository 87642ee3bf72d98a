"""A crank as it runs: the bounce of the contact, inrush, the climb of the speed, the hump of every compression, the sag of the battery, by ngspice's transient."""

from dataclasses import dataclass, replace
from math import exp

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.circuit.elements import Starter
from iron_probe.rig.errors import RigError
from iron_probe.rig.netlist import AT_STANDSTILL, netlist
from iron_probe.rig.parts import Values
from iron_probe.rig.plant import Plant

INDUCTANCE_H = 6e-5
"""Of a starter motor with its leads [H]."""
INERTIA_S = 0.1
"""Ampere seconds a unit of speed takes beyond its load, as a share of the load current."""
COMPRESSION_SHARE = 0.42
"""Share of the torque that comes and goes with compression."""
NARROW = 5.0
"""Width of one compression in the turn of the cycle (concentration of a von Mises hump), for up to four cylinders."""
BOUNCES = ((1.2e-3, 0.9e-3), (3.0e-3, 0.5e-3), (4.2e-3, 0.2e-3))
"""When after it first touches a solenoid's disc lifts again, and for how long [s] (common practice: a few times in 5 ms)."""
ARC_OHM = 0.25
"""What the arc leaves in the way while it is lifted [Ω]."""
STEP_S = 4e-4

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True, kw_only=True)
class CrankRun:
    """Samples of a crank: `time_s`, `amps` through the starter, `volts` across the battery posts, `speed_rpm` of the engine."""

    time_s: Floats
    amps: Floats
    volts: Floats
    speed_rpm: Floats


def crank_trace(plant: Plant, seconds: float, compression: tuple[float, ...] | None = None) -> CrankRun:
    """The first `seconds` of a crank of a plant that stands in its cranking state; `compression` of each cylinder in firing order.

    Raises RigError where no starter has current: there is nothing to see.
    """
    sheet, machine = plant.machine.sheet, plant.machine
    starter = next((e for e in sheet.elements if isinstance(e, Starter)), None)
    if starter is None or abs(plant.amps(starter.id).value) < 1:
        raise RigError(f"{sheet.id}, {plant.state}: no current reaches a starter")
    if plant.chatters is not None:
        raise RigError(f"{sheet.id}, {plant.state}: {plant.chatters} rattles, and a rattle has no crank")
    still = netlist(replace(machine, out={*machine.out, starter.id}), plant.devices, plant.attached, None)
    ends = still.node[starter.start], still.node[starter.end]
    motor = _motor(machine.values[starter.id], *ends, _torque(plant, compression), _cycles_per_s(plant))
    rows = plant.spice.trace([*still.lines, *motor], [f"V({still.node[sheet.plus]})", "I(VM)", "V(w)"], STEP_S, seconds)
    return CrankRun(time_s=rows[:, 0], amps=rows[:, 2], volts=rows[:, 1], speed_rpm=rows[:, 3] * sheet.engine.crank_rpm)


def _cycles_per_s(plant: Plant) -> float:
    """Cycles of the engine a second at its usual cranking speed: two turns each in a four-stroke."""
    engine = plant.machine.sheet.engine
    return engine.crank_rpm / 60 / (2 if engine.strokes == 4 else 1)


def _torque(plant: Plant, compression: tuple[float, ...] | None) -> str:
    """The load beside its mean, over the cycle V(th): one hump a cylinder."""
    cylinders = plant.machine.sheet.engine.cylinders
    heights = compression or (1.0,) * cylinders
    if len(heights) != cylinders:
        raise RigError(f"{plant.machine.sheet.id} has {cylinders} cylinders, and {len(heights)} compressions were given")
    narrow = max(NARROW, 0.32 * cylinders**2)
    mean = exp(-narrow) * float(np.i0(narrow))
    humps = "+".join(
        f"{h / mean / cylinders:.6g}*exp({narrow:.6g}*(cos(6.2831853*(V(th)-{k / cylinders:.9g}))-1))" for k, h in enumerate(heights)
    )
    return f"({1 - COMPRESSION_SHARE:g}+{COMPRESSION_SHARE:g}*({humps}))"


def _motor(values: Values, a: str, b: str, torque: str, cycles_per_s: float) -> list[str]:
    """The contact as it bounces, resistance, inductance and back-EMF; the speed V(w) as volts of a capacitor, 1 at the usual cranking speed; the angle V(th)."""
    load = values["load_a"]
    edges = [
        (at, level)
        for begins, lasts in BOUNCES
        for at, level in ((begins, 0), (begins + 2e-5, 1), (begins + lasts, 1), (begins + lasts + 2e-5, 0))
    ]
    return [
        f"VG lift 0 PWL(0 0 {' '.join(f'{at:.9g} {level}' for at, level in edges)})",
        f"BG {a} ga V={ARC_OHM:g}*V(lift)*I(VM)",
        f"RM ga ma {values['ohm']:.9g}",
        f"LM ma mb {INDUCTANCE_H:g} ic=0",
        "VM mb mc 0",
        f"BM mc {b} V={values['back_v']:.9g}*V(w)",
        f"BJ 0 w I=I(VM)-{load:.9g}*({AT_STANDSTILL}*tanh(V(w)/0.02)+{1 - AT_STANDSTILL}*V(w))*{torque}",
        f"CJ w 0 {INERTIA_S * load:.9g} ic=0",
        f"BT 0 th I=max(V(w),0)*{cycles_per_s:.9g}",
        "CT th 0 1 ic=0.13",
    ]
