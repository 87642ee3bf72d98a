"""A stator on its bridge of real diodes, as a transient: what it still gives of a sound one's current, and how it ripples.

Windings are sources behind resistance and inductance; the battery holds the output. A machine of any design comes out of the same lines:
star, delta or a single winding, grounded or not, with a winding open or short of turns, a wire parted or green, a diode gone.
"""

from dataclasses import dataclass
from functools import lru_cache
from math import inf, isinf, pi, sqrt

import numpy as np

from iron_probe.core.circuit.elements import Rectifier, Stator
from iron_probe.core.circuit.stator_ways import stator_ways
from iron_probe.rig.machine import Machine
from iron_probe.rig.parts import Values, bridge_values, stator_values
from iron_probe.rig.spice import Spice

POLE_PAIRS = 6
"""Pairs of magnets of a flywheel (common practice: 6 to 9)."""
SETTLES, MEASURED, STEPS = 8, 6, 120
"""Periods until it runs evenly, periods measured, and steps of each."""
HELD_V, BATTERY_OHM = 14.4, 0.02
"""What a 12 V battery holds the output at, behind what resistance."""
DIODE = ".model bridge D(IS=1e-8 N=1.6 RS=4m)"
THROUGH_OHM, DAMP_OHM = 0.005, 1e6
"""A diode gone through, and what keeps a floating winding somewhere."""
LEAST_A = 0.1
"""A sound machine that gives less than this at its speed is not compared with."""
REACHED = {3: 3 / pi, 1: 2 / pi}
"""Mean of a bridge's output over the greatest phase current, three phases and one (any power-electronics handbook)."""


@dataclass(frozen=True, slots=True)
class Rectified:
    """What a bridge gives into the battery: mean amps, and the peak-to-peak volts of its ripple."""

    amps: float
    ripple_v: float


def rectified(
    stator: Stator, rectifier: Rectifier, wound: Values, diodes: Values, way_ohm: list[float], rpm: float, spice: Spice
) -> Rectified:
    """Full field current of the winding at an engine speed into a battery, `way_ohm` lying in its wires, by values of both parts."""
    hz = rpm / 60 * POLE_PAIRS
    period, blocks = 1 / hz, rectifier.volts / 12
    lines = [DIODE, "VM plus e 0", f"RB e h {BATTERY_OHM * blocks:g}", f"VB h 0 {HELD_V * blocks:g}"]
    lines += _wound(stator, rectifier, wound, rpm, hz)
    for k, ohm in enumerate(way_ohm):
        if not isinf(ohm):
            lines.append(f"RP{k} p{k} a{k} {max(ohm, 1e-4):.6g}")
        lines += [f"RL{k} a{k} 0 {DAMP_OHM:g}"]
        for rail, anode, cathode in (("p", f"a{k}", "plus"), ("n", "0", f"a{k}")):
            stands = diodes[f"d{k + 1}{rail}"]
            if stands > 0:
                lines.append(f"RT{k}{rail} {anode} {cathode} {THROUGH_OHM:g}")
            elif stands == 0:
                lines.append(f"D{k}{rail} {anode} {cathode} bridge")
    rows = spice.trace(lines, ["i(vm)", "v(plus)"], period / STEPS, (SETTLES + MEASURED) * period)
    rows = rows[rows[:, 0] > SETTLES * period]
    time, amps, volts = rows[:, 0], rows[:, 1], rows[:, 2]
    return Rectified(float(np.trapezoid(amps, time) / (time[-1] - time[0])), float(volts.max() - volts.min()))


def bridge_beside_sound(machine: Machine, rectifier: Rectifier, rpm: float, spice: Spice) -> tuple[float, float]:
    """Share of amps and times of ripple that a machine's bridge gives at a speed beside a sound one of its sheet; 1 and 1 where even that
    gives next to nothing."""
    stator = machine.sheet.element(rectifier.stator)
    assert isinstance(stator, Stator)
    if rpm <= 0 or rectifier.id in machine.out:
        return 1.0, 1.0
    ways = [
        sum(inf if e in machine.out else machine.values[e]["ohm"] for e in way)
        for way in stator_ways(machine.sheet, rectifier)
    ]  # fmt: skip
    sound = _sound(stator.model_dump_json(), rectifier.model_dump_json(), len(ways), rpm, spice)
    if sound.amps < LEAST_A:
        return 1.0, 1.0
    wound = machine.values[stator.id]
    if stator.id in machine.out:
        wound = wound | {f"w{k + 1}_ohm": inf for k in range(len(stator.windings()))}
    found = rectified(stator, rectifier, wound, machine.values[rectifier.id], ways, rpm, spice)
    return max(found.amps, 0.0) / sound.amps, found.ripple_v / sound.ripple_v


@lru_cache(maxsize=64)
def _sound(stator: str, rectifier: str, ways: int, rpm: float, spice: Spice) -> Rectified:
    wound, bridge = Stator.model_validate_json(stator), Rectifier.model_validate_json(rectifier)
    return rectified(wound, bridge, stator_values(wound), bridge_values(wound), [0.0] * ways, rpm, spice)


def _wound(stator: Stator, rectifier: Rectifier, wound: Values, rpm: float, hz: float) -> list[str]:
    """The windings: each a source, a resistance and an inductance in a row. The inductance is what holds the design to its rating."""
    ends, count = stator.windings(), len(stator.phases())
    peak_v = wound["pair_v"] * rpm / 1000 * sqrt(2) / (sqrt(3) if stator.joined == "star" else 1)
    henry = REACHED[3 if count == 3 else 1] * peak_v / (2 * pi * hz * rectifier.rated_a) * (sqrt(3) if stator.joined == "delta" else 1)
    node = {p: f"p{k}" for k, p in enumerate(stator.phases())} | {stator.star or "": "star"}
    lines = []
    for k, (a, b) in enumerate(ends):
        ohm, share = wound[f"w{k + 1}_ohm"], wound[f"e{k + 1}"]
        if isinf(ohm):
            continue
        angle = -360 / count * k if count == 3 else 0
        lines.append(f"VW{k} {node[a]} u{k} SIN(0 {peak_v * share:.9g} {hz:.9g} 0 0 {angle:g})")
        lines += [f"RW{k} u{k} v{k} {ohm:.6g}", f"LW{k} v{k} {node[b]} {henry * share * share:.9g}"]
    earth = wound["earth_ohm"]
    far = "star" if stator.star else "p0"
    return [*lines, f"RE {far} 0 {min(earth, DAMP_OHM):.6g}"]
