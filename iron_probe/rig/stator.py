"""A stator with its plug off, as an ohmmeter and an AC voltmeter see it: windings in star or delta, some of them perhaps open."""

from cmath import exp, pi
from math import isinf, sqrt

import numpy as np

from iron_probe.core.circuit.elements import Stator

METER_S = 1e-7
"""The meter and damp insulation, so that an open winding has an answer [S]."""


def pair_ohm(stator: Stator, values: dict[str, float], a: str, b: str) -> float:
    """Ohms between two of its points."""
    net, points = _admittance(stator, values)
    i, j = points.index(a), points.index(b)
    keep = [k for k in range(len(points)) if k != j]
    inject = np.zeros(len(keep))
    inject[keep.index(i)] = 1.0
    return float(np.linalg.solve(net[np.ix_(keep, keep)] + 1e-11 * np.eye(len(keep)), inject)[keep.index(i)])


def ac_volts(stator: Stator, values: dict[str, float], a: str, b: str, rpm: float) -> float:
    """AC volts rms between two phases without load: each winding a source behind its own resistance, the meter across the two."""
    net, points = _admittance(stator, values)
    count = len(points)
    currents = np.zeros(count, dtype=complex)
    own = values["pair_v"] * rpm / 1000 / (sqrt(3) if stator.joined == "star" else 1.0)
    for k, (p, other) in enumerate(stator.windings()):
        ohm = values[f"w{k + 1}_ohm"]
        if isinf(ohm):
            continue
        amps = own * values[f"e{k + 1}"] * exp(-2j * pi * k / 3) / ohm
        currents[points.index(p)] += amps
        currents[points.index(other)] -= amps
    i, j = points.index(a), points.index(b)
    net = net + 1e-9 * np.eye(count)
    net[i, i] += METER_S
    net[j, j] += METER_S
    net[i, j] -= METER_S
    net[j, i] -= METER_S
    volts = np.linalg.solve(net, currents)
    return float(abs(volts[i] - volts[j]))


def _admittance(stator: Stator, values: dict[str, float]) -> tuple[np.ndarray, list[str]]:
    points = [*stator.phases(), *([stator.star] if stator.star else []), stator.case]
    net = np.zeros((len(points), len(points)))
    ways = [(a, b, values[f"w{k + 1}_ohm"]) for k, (a, b) in enumerate(stator.windings())]
    ways.append((stator.star or stator.p1, stator.case, values["earth_ohm"]))
    for a, b, ohm in ways:
        if not isinf(ohm):
            i, j = points.index(a), points.index(b)
            net[i, i] += 1 / ohm
            net[j, j] += 1 / ohm
            net[i, j] -= 1 / ohm
            net[j, i] -= 1 / ohm
    return net, points
