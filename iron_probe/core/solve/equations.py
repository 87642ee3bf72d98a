"""The nodal equations of a network: which branch and which leak goes where."""

from collections.abc import Iterable
from functools import lru_cache

import numpy as np

from iron_probe.core.arrays import Floats, Ints
from iron_probe.core.circuit.network import Network
from iron_probe.core.solve.elimination import Plan, plan_elimination
from iron_probe.core.solve.nodal import Places, own_ohm_of_all, solve_all

POINT_LEAK_S = 1e-9
"""Conductance [S] from every point to battery minus: damp insulation, which makes a floating wire determinate."""


def point_leaks(points: int) -> Floats:
    """Conductance (points,) [S] from each point to battery minus: no two alike, so that two loose wires never look like one."""
    return np.asarray(POINT_LEAK_S * (1 + np.arange(points) / 997))


@lru_cache(maxsize=256)
def _plan(points: int, reference: int, plus: int, pairs: tuple[tuple[int, int], ...], fed: bool) -> Plan:
    to_plus = tuple((p, plus) for p in range(points) if fed and p not in (plus, reference))
    inner = [(p - (p > reference), q - (q > reference)) for p, q in (*pairs, *to_plus) if reference not in (p, q) and p != q]
    return plan_elimination(points - 1, inner, last=[plus - (plus > reference)])


class Equations:
    """Branches gathered into the edge slots of a plan.

    `fed` makes room for a leak from battery plus to every point; it doubles the work, so it is only taken when some
    variant has one.
    """

    def __init__(self, network: Network, fed: bool) -> None:
        ref = network.reference
        pairs = tuple(sorted({(int(min(a, b)), int(max(a, b))) for a, b in zip(network.start, network.end, strict=True)}))
        self.plan = _plan(len(network.points), ref, network.plus, pairs, fed)
        ends = [(int(a), int(b)) for a, b in zip(network.start, network.end, strict=True)]
        leaks = [(int(row), p) for p, row in enumerate(network.supply_leak_rows) if fed and p not in (ref, network.plus)]

        def number(point: int) -> int:
            return point - (point > ref)

        def slot(a: int, b: int) -> int:
            return self.plan.slot_of(number(a), number(b))

        self.places = Places(
            reference=ref,
            damp=np.delete(point_leaks(len(network.points)), ref),
            leak_row=np.delete(network.leak_rows, ref),
            to_ground=_table((n, number(b if a == ref else a)) for n, (a, b) in enumerate(ends) if (a == ref) != (b == ref)),
            between=_table((n, slot(a, b)) for n, (a, b) in enumerate(ends) if ref not in (a, b)),
            fed=_table((row, slot(p, network.plus)) for row, p in leaks),
            ends=_table(ends),
        )

    def solve(self, values: Floats, conductance: Floats, source: Floats) -> tuple[Floats, Floats]:
        """Point voltages (points, V), the reference at 0 V, and branch currents (branches, V) from start to end, from what branches conduct [S] and
        drive [A] (branches, V)."""
        volts, flow = np.zeros((self.plan.points + 1, values.shape[1])), np.empty_like(conductance)
        driving = np.flatnonzero(source.any(axis=1))
        solve_all(self.plan.steps, self.plan.edges, self.places, driving, values, conductance, source, volts, flow)
        return volts, flow

    def own_ohm(self, values: Floats, conductance: Floats) -> Floats:
        """Resistance (points, V) [Ω] from every point to the reference, sources at rest; 0 of the reference itself."""
        ohm = np.zeros((self.plan.points + 1, values.shape[1]))
        own_ohm_of_all(self.plan.steps, self.plan.edges, self.places, values, conductance, ohm)
        return ohm


def _table(rows: Iterable[tuple[int, int]]) -> Ints:
    return np.array(list(rows), dtype=np.int64).reshape(-1, 2)


@lru_cache(maxsize=128)
def equations(network: Network, fed: bool) -> Equations:
    """The equations of a network, worked out once."""
    return Equations(network, fed)
