"""Nodal equations solved by removing one point at a time, for many variants of a circuit at once.

Removing a point from a net of conductances replaces its star by a mesh between its neighbours: c_pq += c_p c_q / Σc.
Every quantity stays positive and is only ever added to, so nothing cancels: a floating wire held by a nanosiemens
beside a cable of a thousand siemens keeps all its digits. The order of removal (least degree first) and the places that
fill in are worked out once a circuit; each step is then a few array operations over all variants.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats


@dataclass(frozen=True, slots=True)
class Pivot:
    """Removal of one point: its later neighbours, its edges from slot `first` on in their order, and the mesh it leaves.

    `mesh` has (i, j, slot) for each pair of neighbours, by their places. Plain numbers: rows are then views, which a
    fancy index would copy.
    """

    point: int
    neighbours: tuple[int, ...]
    first: int
    mesh: tuple[tuple[int, int, int], ...]

    @property
    def rays(self) -> slice:
        """The slots of its edges."""
        return slice(self.first, self.first + len(self.neighbours))


@dataclass(frozen=True, slots=True)
class Plan:
    """Order of removal for a circuit of `points` points besides the reference, with `edges` edge slots, fill included."""

    points: int
    edges: int
    steps: tuple[Pivot, ...]
    slot: dict[tuple[int, int], int]

    def slot_of(self, start: int, end: int) -> int:
        """Slot of the edge between two points, in either order."""
        return self.slot[min(start, end), max(start, end)]


def plan_elimination(points: int, pairs: Sequence[tuple[int, int]], last: Sequence[int] = ()) -> Plan:
    """Work out a least-degree order for `points` points joined by `pairs`; points in `last` go at the end."""
    neighbours: list[set[int]] = [set() for _ in range(points)]
    for start, end in pairs:
        if start != end:
            neighbours[start].add(end)
            neighbours[end].add(start)
    held_back = set(last)
    left = set(range(points))
    order: list[tuple[int, list[int]]] = []
    while left:
        point = min(left, key=lambda p: (p in held_back, len(neighbours[p]), p))
        around = sorted(neighbours[point])
        order.append((point, around))
        for p in around:
            neighbours[p].discard(point)
            neighbours[p].update(q for q in around if q != p)
        left.discard(point)
    slot: dict[tuple[int, int], int] = {}
    firsts = []
    for point, around in order:
        firsts.append(len(slot))
        for p in around:
            slot[min(point, p), max(point, p)] = len(slot)
    steps = []
    for (point, around), first in zip(order, firsts, strict=True):
        mesh = [(i, j, slot[min(around[i], around[j]), max(around[i], around[j])]) for i in range(len(around)) for j in range(i)]
        steps.append(Pivot(point, tuple(around), first, tuple(mesh)))
    return Plan(points, len(slot), tuple(steps), slot)


@dataclass(frozen=True, slots=True)
class Reduced:
    """A circuit after elimination: `total` (points, variants) conductance of each star [S], `share` (edges, variants) of each ray in it."""

    plan: Plan
    total: Floats
    share: Floats

    def take(self, which: NDArray[np.bool_]) -> "Reduced":
        """The same for some variants only; `which` (variants,)."""
        return self if which.all() else Reduced(self.plan, self.total[:, which], self.share[:, which])


def reduce_network(plan: Plan, edge_s: Floats, ground_s: Floats) -> Reduced:
    """Eliminate all points.

    `edge_s` (edges, variants) [S] by slot, `ground_s` (points, variants) [S] to the reference; every point must have a
    way to the reference with conductance above zero. The arguments are left as they are.
    """
    edges, grounds = edge_s.copy(), ground_s.copy()
    total = np.empty_like(grounds)
    share = np.empty_like(edges)
    for step in plan.steps:
        own = grounds[step.point]
        rays, part, star = edges[step.rays], share[step.rays], total[step.point]
        star[:] = own
        for ray in rays:
            star += ray
        np.divide(rays, star, out=part)
        for place, neighbour in enumerate(step.neighbours):
            grounds[neighbour] += part[place] * own
        for i, j, slot in step.mesh:
            edges[slot] += part[i] * rays[j]
    return Reduced(plan, total, share)


def point_volts(reduced: Reduced, injected_a: Floats) -> Floats:
    """Voltages (points, variants) [V] against the reference for currents (points, variants) [A] injected into the points."""
    currents = injected_a.copy()
    share = reduced.share
    for step in reduced.plan.steps:
        own = currents[step.point]
        for place, neighbour in enumerate(step.neighbours, step.first):
            currents[neighbour] += share[place] * own
    volts = np.divide(currents, reduced.total, out=currents)
    for step in reversed(reduced.plan.steps):
        own = volts[step.point]
        for place, neighbour in enumerate(step.neighbours, step.first):
            own += share[place] * volts[neighbour]
    return volts


def own_resistances(reduced: Reduced) -> Floats:
    """Resistance (points, variants) [Ω] from every point to the reference, sources at rest.

    The recurrence of Takahashi, Fagan and Chen (1973) for the entries of an inverse inside the pattern of its factors.
    """
    own = 1 / reduced.total
    mutual = np.empty_like(reduced.share)
    for step in reversed(reduced.plan.steps):
        part, rays = reduced.share[step.rays], mutual[step.rays]
        for place, neighbour in enumerate(step.neighbours):
            np.multiply(part[place], own[neighbour], out=rays[place])
        for i, j, slot in step.mesh:
            rays[i] += part[j] * mutual[slot]
            rays[j] += part[i] * mutual[slot]
        for place in range(len(step.neighbours)):
            own[step.point] += part[place] * rays[place]
    return own
