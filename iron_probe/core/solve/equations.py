"""The nodal equations of a network: which branch and which leak goes where."""

from collections.abc import Iterable
from functools import lru_cache

import numpy as np

from iron_probe.core.arrays import Floats, Ints
from iron_probe.core.circuit.network import Network
from iron_probe.core.solve.elimination import Plan, plan_elimination
from iron_probe.core.solve.nodal import Places, System

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


@lru_cache(maxsize=128)
def equations(network: Network, fed: bool) -> System:
    """The equations of a network, worked out once.

    `fed` makes room for a leak from battery plus to every point; it doubles the work, so it is only taken when some
    variant has one.
    """
    ref = network.reference
    ends = [(int(a), int(b)) for a, b in zip(network.start, network.end, strict=True)]
    pairs = tuple(sorted({(min(a, b), max(a, b)) for a, b in ends}))
    plan = _plan(len(network.points), ref, network.plus, pairs, fed)
    leaks = [(int(row), p) for p, row in enumerate(network.supply_leak_rows) if fed and p not in (ref, network.plus)]

    def number(point: int) -> int:
        return point - (point > ref)

    def slot(a: int, b: int) -> int:
        return plan.slot_of(number(a), number(b))

    places = Places(
        reference=ref,
        damp=np.delete(point_leaks(len(network.points)), ref),
        leak_row=np.delete(network.leak_rows, ref),
        to_ground=_table((n, number(b if a == ref else a)) for n, (a, b) in enumerate(ends) if (a == ref) != (b == ref)),
        between=_table((n, slot(a, b)) for n, (a, b) in enumerate(ends) if ref not in (a, b)),
        fed=_table((row, slot(p, network.plus)) for row, p in leaks),
        ends=_table(ends),
    )
    return System(plan.steps, plan.edges, places)


def _table(rows: Iterable[tuple[int, int]]) -> Ints:
    return np.array(list(rows), dtype=np.int64).reshape(-1, 2)
