"""Fuses that heat and open, each by the curve of its kind, and the trace of one that opens."""

from dataclasses import dataclass, replace
from math import exp, inf, log

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.fuses import FuseKind
from iron_probe.rig.errors import RigError
from iron_probe.rig.machine import Devices, Machine
from iron_probe.rig.netlist import netlist
from iron_probe.rig.spice import Spice

Curve = tuple[tuple[float, float], ...]
_BLADE: Curve = ((1.35, 300.0), (1.6, 20.0), (2.0, 1.5), (3.5, 0.2), (6.0, 0.06))
CURVES: dict[FuseKind, Curve] = {
    "regular": _BLADE,
    "mini": _BLADE,
    "low_profile": _BLADE,
    "glass": ((1.35, 3600.0), (2.0, 5.0), (3.0, 0.4), (6.0, 0.04)),
    "maxi": ((1.35, 1800.0), (2.0, 10.0), (3.5, 0.9), (6.0, 0.25)),
    "cartridge": ((1.35, 1800.0), (2.0, 30.0), (3.5, 3.0), (6.0, 0.6)),
    "link": ((1.35, 1800.0), (2.0, 12.0), (3.5, 1.2), (6.0, 0.3)),
    "breaker": ((1.35, 1800.0), (1.5, 120.0), (2.0, 20.0), (3.0, 6.0), (6.0, 1.5)),
}
"""Time to open [s] by current over rating (common practice; blades between the limits of ISO 8820)."""
STEP_S = 1e-3


def opens_after_s(share: float, make: FuseKind) -> float:
    """Time a fuse of a kind takes to open [s] at a current over its rating; infinite below its curve, and beyond it by the heat I²t, so
    that of two in a row the smaller opens."""
    curve = np.log(CURVES[make])
    if share <= 0 or log(share) < curve[0, 0]:
        return inf
    beyond = max(log(share) - float(curve[-1, 0]), 0.0)
    return exp(float(np.interp(log(share), curve[:, 0], curve[:, 1])) - 2 * beyond)


@dataclass(frozen=True, slots=True, kw_only=True)
class FuseRun:
    """Samples of a fuse from the moment its state begins: `time_s`, `amps` through it, `volts` across it, and when it `opened_s` (None: it
    held)."""

    time_s: NDArray[np.float64]
    amps: NDArray[np.float64]
    volts: NDArray[np.float64]
    opened_s: float | None


def fuse_trace(machine: Machine, devices: Devices, fuse_id: str, seconds: float, spice: Spice) -> FuseRun:
    """The first `seconds` of a state with the devices as they stand, the fuse whole at first; RigError for what is no fuse.

    Heat adds up: a fuse is gone when the parts of its time to open that each current has used make one.
    """
    fuse = machine.sheet.element(fuse_id)
    if not isinstance(fuse, Fuse):
        raise RigError(f"{fuse_id} is a {fuse.type}: only a fuse has such a trace")
    rating_a = machine.values[fuse_id]["rating_a"]
    whole = replace(devices, blown={**devices.blown, fuse_id: False})
    run = netlist(machine, whole, [], None)
    names = [f"V({run.node[p]})" for p in fuse.points() if run.node[p] != "0"]
    rows = spice.trace(run.lines, names, STEP_S, seconds)
    ends = dict(zip(names, rows[:, 1:].T, strict=True))
    across = [ends.get(f"V({run.node[p]})", np.zeros(len(rows))) for p in fuse.points()]
    ohm = machine.values[fuse_id]["ohm"] * (1 + devices.heat.get(fuse_id, 0.0))
    time_s, volts = rows[:, 0], across[0] - across[1]
    amps = volts / ohm
    used = np.cumsum(
        [step / opens_after_s(abs(a) / rating_a, fuse.make) for a, step in zip(amps, np.diff(time_s, prepend=0.0), strict=True)]
    )
    if used[-1] < 1:
        return FuseRun(time_s=time_s, amps=amps, volts=volts, opened_s=None)
    gone = int(np.argmax(used >= 1))
    parted = netlist(machine, replace(devices, blown={**devices.blown, fuse_id: True}), [], 1.0)
    still = parted.volts(spice.operating_point(parted.lines))
    volts[gone:] = still[fuse.start] - still[fuse.end]
    amps[gone:] = 0.0
    return FuseRun(time_s=time_s, amps=amps, volts=volts, opened_s=float(time_s[gone]))
