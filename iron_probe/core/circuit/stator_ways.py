"""The AC side between a permanent-magnet stator and its rectifier: the wires and plugs each phase passes, and what they leave of its output."""

from collections.abc import Sequence

import networkx as nx
import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.charging import PHASE_LOST, UNEVEN_RIPPLE, Rectifier, Stator
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.circuit.wiring import passed, wiring_of

HELD_V = 14.4
"""What a 12 V rectifier works into [V]."""
HALVES = 2.0
"""A resistance of HALVES times volts over rating, in one wire, halves what that wire brings (ngspice transient of stator and bridge,
tests/outside/test_stator_on_its_bridge.py)."""
AC_SHARE = 0.8
"""AC amps of a wire, rms, over the DC the bridge gives (√(2/3) for three phases: any power-electronics handbook)."""


def stator_ways(sheet: Sheet, rectifier: Rectifier) -> tuple[tuple[str, ...], ...]:
    """Elements each phase passes from the stator's pin to the rectifier's, phase by phase; NetworkXNoPath where a pin is not joined."""
    stator = sheet.element(rectifier.stator)
    assert isinstance(stator, Stator)
    ways = wiring_of(sheet)
    return tuple(passed(ways, p, a) for p, a in zip(stator.phases(), rectifier.ac or stator.phases(), strict=True))


def joined_by_wire(sheet: Sheet, rectifier: Rectifier) -> bool:
    """Whether every pin of the rectifier has its own way of metal from the stator's."""
    try:
        return len(rectifier.ac) in (0, len(set(rectifier.ac))) and bool(stator_ways(sheet, rectifier))
    except (nx.NetworkXNoPath, nx.NodeNotFound, ValueError):
        return False


def ac_amps(sheet: Sheet) -> dict[str, float]:
    """What the elements between stators and rectifiers carry at the rating [A rms]; they carry none of the DC the solver sees."""
    return {
        element: AC_SHARE * rectifier.rated_a
        for rectifier in sheet.elements
        if isinstance(rectifier, Rectifier)
        for way in stator_ways(sheet, rectifier)
        for element in way
    }


def ac_points(sheet: Sheet) -> set[str]:
    """Points of the AC side: no DC volts are read there while the engine runs, and none stand there while it does not."""
    stators = [e for e in sheet.elements if isinstance(e, Stator)]
    rectifiers = [e for e in sheet.elements if isinstance(e, Rectifier)]
    return {p for s in stators for p in s.points() if p != s.case} | {p for r in rectifiers for p in r.ac}


def brought(rectifier: Rectifier, way_ohm: Sequence[Floats]) -> Floats:
    """Share (V,) of its current that ways of so many ohms (phases of (V,)) leave: a single winding lives on its worse wire, three phases on
    their second best, and with the third gone PHASE_LOST is left."""
    best = _by_wire(rectifier, way_ohm)
    return np.asarray(best[1] * (PHASE_LOST + (1 - PHASE_LOST) * best[2]) if len(best) > 2 else best[-1])


def uneven_ripple(rectifier: Rectifier, way_ohm: Sequence[Floats]) -> Floats:
    """Times (V,) by which ways of so many ohms (phases of (V,)) raise the ripple of a bridge: one of three that brings less than the best."""
    best = _by_wire(rectifier, way_ohm)
    return np.asarray(1 + (UNEVEN_RIPPLE - 1) * (1 - best[-1] / best[0]) if len(best) > 2 else np.ones(best.shape[1:]))


def _by_wire(rectifier: Rectifier, way_ohm: Sequence[Floats]) -> Floats:
    """What each wire brings (phases, V), the best first."""
    half_ohm = HALVES * HELD_V * rectifier.volts / 12 / rectifier.rated_a
    return np.asarray(np.sort(half_ohm / (half_ohm + np.stack(way_ohm)), axis=0)[::-1])
