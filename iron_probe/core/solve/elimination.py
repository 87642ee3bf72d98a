"""In which order the points of a circuit are removed, and the places that fill in: worked out once a circuit, least degree first."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from iron_probe.core.solve.nodal import Steps


@dataclass(frozen=True, slots=True)
class Plan:
    """Order of removal for a circuit of `points` points besides the reference, with `edges` edge slots, fill included."""

    points: int
    edges: int
    steps: Steps
    slot: dict[tuple[int, int], int]

    def slot_of(self, start: int, end: int) -> int:
        """Slot of the edge between two points, in either order."""
        return self.slot[min(start, end), max(start, end)]


def plan_elimination(points: int, pairs: Sequence[tuple[int, int]], last: Sequence[int] = ()) -> Plan:
    """Work out a least-degree order for `points` points joined by `pairs`; points in `last` go at the end."""
    order = _least_degree_first(points, pairs, set(last))
    slot: dict[tuple[int, int], int] = {}
    first, mesh_first, mesh = [0], [0], []
    for point, around in order:
        for p in around:
            slot[min(point, p), max(point, p)] = len(slot)
        first.append(len(slot))
    for (_, around), begins in zip(order, first, strict=False):
        mesh += [
            (begins + i, begins + j, slot[min(around[i], around[j]), max(around[i], around[j])])
            for i in range(len(around))
            for j in range(i)
        ]
        mesh_first.append(len(mesh))
    steps = Steps(
        np.array([point for point, _ in order], dtype=np.int64), np.array(first), np.array([p for _, around in order for p in around], dtype=np.int64),
        np.array(mesh_first), np.array(mesh, dtype=np.int64).reshape(-1, 3),
    )  # fmt: skip
    return Plan(points, len(slot), steps, slot)


def _least_degree_first(points: int, pairs: Sequence[tuple[int, int]], held_back: set[int]) -> list[tuple[int, list[int]]]:
    """The points in the order they are removed, each with its neighbours at that time."""
    neighbours: list[set[int]] = [set() for _ in range(points)]
    for start, end in pairs:
        if start != end:
            neighbours[start].add(end)
            neighbours[end].add(start)
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
    return order
