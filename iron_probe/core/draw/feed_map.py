"""Coordinates of the feed map: supply side along the top, ground side along the bottom, everything else in lanes between.

Numbers only: columns to the right, rows downward, one unit apart. The light circuit is taken apart into ears, paths
that start and end on points already placed; each ear gets a lane, so a command circuit reads like a rung.
"""

from dataclasses import dataclass
from itertools import pairwise

import networkx as nx

from iron_probe.core.circuit.elements import BranchKind
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import Network, branch_id

Xy = tuple[float, float]

RISER_OFFSET = 0.28
"""How far beside its point a riser runs, so that it never crosses a point of another lane."""
RISER_STEP = 0.09
"""Further offset of each next riser from the same point."""
LONGEST_EAR = 11
"""Points of an ear at the most, so that a lane stays as wide as the page."""
CLEARANCE = 0.13
"""Least distance of a riser from the column of any point."""
CHANNEL = 0.42
"""Distance from its lane at which a riser runs along it, in rows."""


@dataclass(frozen=True, slots=True)
class MapPoint:
    """A probe point at column `x`, row `y`; `side` is supply, ground or light."""

    id: str
    x: float
    y: float
    side: str


@dataclass(frozen=True, slots=True)
class MapBranch:
    """A branch as a polyline; its symbol stands at `middle`, `upright` when that stretch runs down the page."""

    id: str
    element: str
    line: tuple[Xy, ...]
    middle: Xy
    upright: bool
    heavy: bool


@dataclass(frozen=True, slots=True)
class FeedMap:
    """All coordinates, with the size in columns and rows."""

    columns: float
    rows: float
    points: tuple[MapPoint, ...]
    branches: tuple[MapBranch, ...]


@dataclass(slots=True)
class _Ear:
    points: list[str]
    branches: list[int]


def lay_out(network: Network) -> FeedMap:
    """Place every point and branch of the sheet; raises SolveError when it has no heavy path."""
    heavy = heavy_path(network)
    frame = {network.branch_row[name] for name in (*heavy.supply, *heavy.ground, heavy.load)}
    posts = {network.sheet.plus, network.sheet.minus}
    frame |= {n for n, b in enumerate(network.branches) if b.kind is BranchKind.BATTERY and {b.start, b.end} == posts}
    ears = _ears(network, frame, {*heavy.supply_points, *heavy.ground_points})
    width = max(len(heavy.supply), len(heavy.ground), *(len(e.points) for e in ears), 4)
    where: dict[str, Xy] = {}
    for k, point in enumerate(heavy.supply_points):
        where[point] = (width * k / max(len(heavy.supply), 1), 0.0)
    ground_x = {p: width * (1 - k / max(len(heavy.ground), 1)) for k, p in enumerate(heavy.ground_points)}
    rows = dict.fromkeys(where, 0.0) | dict.fromkeys(ground_x, float("inf"))
    lanes, lane_of = _assign_lanes(ears, {p: xy[0] for p, xy in where.items()} | ground_x, rows, width)
    bottom = float(lanes + 1)
    where |= {p: (x, bottom) for p, x in ground_x.items()}
    side = dict.fromkeys(heavy.supply_points, "supply") | dict.fromkeys(heavy.ground_points, "ground")
    lines: dict[int, tuple[Xy, ...]] = {}
    risers: dict[str, int] = {}
    for ear, (lane, xs) in zip(ears, lane_of, strict=True):
        for point, x in zip(ear.points[1:-1], xs, strict=True):
            where[point] = (x, float(lane))
        if ear.points[-1] not in where:  # a dead end hangs one column on
            where[ear.points[-1]] = (where[ear.points[-2]][0] + 1, float(lane))
    for ear, (lane, _) in zip(ears, lane_of, strict=True):
        _draw_ear(ear, float(lane), where, risers, lines)
    for number in frame:
        branch = network.branches[number]
        lines[number] = (where[branch.start], where[branch.end])
    return FeedMap(
        columns=float(width),
        rows=bottom,
        points=tuple(MapPoint(p, *where[p], side.get(p, "light")) for p in network.points),
        branches=tuple(_finished(network, n, lines[n], n in frame) for n in range(len(network.branches))),
    )


def _ears(network: Network, taken: set[int], placed: set[str]) -> list[_Ear]:
    """Split the branches not yet taken into paths between placed points, longest first; dead ends last."""
    rest: nx.MultiGraph = nx.MultiGraph()
    for number, branch in enumerate(network.branches):
        if number not in taken:
            rest.add_edge(branch.start, branch.end, key=number)
    known, ears = set(placed), []
    order = {p: k for k, p in enumerate(network.points)}
    while rest.number_of_edges():
        tried = [_longest(rest, p, known) for p in sorted(known & set(rest), key=lambda p: order[p])]
        best = max(tried, key=lambda path: (bool(path) and path[-1] in known, len(path)), default=[])
        if len(best) < 2:
            best = list(next(iter(rest.edges()))[:2])  # an island: start anywhere
            known.add(best[0])
        numbers = []
        for a, b in pairwise(best):
            key = min(rest[a][b])
            numbers.append(key)
            rest.remove_edge(a, b, key)
        rest.remove_nodes_from([p for p in list(rest) if rest.degree(p) == 0])
        known.update(best)
        ears.append(_Ear(best, numbers))
    return ears


def _longest(rest: nx.MultiGraph, start: str, known: set[str]) -> list[str]:
    """A long path from a placed point through unplaced ones to another placed point (or a dead end)."""
    best: list[str] = []
    stack: list[list[str]] = [[start]]
    tried = 0
    while stack and tried < 6000:
        path = stack.pop()
        tried += 1
        if len(path) > LONGEST_EAR:  # a longer way is drawn in parts, once others have given it points to end on
            continue
        ends_here = len(path) > 1 and (path[-1] in known or all(n in path for n in rest[path[-1]]))
        if ends_here:
            lands = path[-1] in known
            if (lands, len(path)) > (bool(best) and best[-1] in known, len(best)):
                best = path
            if lands:
                continue
        stack.extend([*path, n] for n in sorted(rest[path[-1]], reverse=True) if n not in path)
    return best


def _assign_lanes(
    ears: list[_Ear], x_of: dict[str, float], rows: dict[str, float], width: float
) -> tuple[int, list[tuple[int, list[float]]]]:
    """Give every ear a lane and its inner points columns; ears share a lane where they do not meet.

    A single branch between two rows needs no lane (0): it runs straight down beside its first point.
    """
    known = dict(x_of)
    row_of = dict(rows)
    lanes: list[list[tuple[float, float]]] = []
    found: list[tuple[int, list[float]]] = []
    for ear in ears:
        inner = len(ear.points) - 2
        if inner == 0 and ear.points[-1] in row_of and row_of[ear.points[0]] != row_of[ear.points[-1]]:
            found.append((0, []))
            continue
        a, b = known[ear.points[0]], known.get(ear.points[-1])
        b = a + 1 if b is None else b
        if ear.points[-1] not in known and inner >= 0:
            inner += 1
        if inner <= 0:
            xs: list[float] = []
            low, high = min(a, b), max(a, b)
        else:
            need = float(inner + 1)
            low, high = min(a, b), max(a, b)
            if high - low < need:
                high = min(low + need, width)
                low = max(high - need, 0.0)
            step = (high - low) / (inner + 1)
            xs = [low + step * (k + 1) for k in range(inner)]
            if b < a:
                xs.reverse()
        low, high = min([a, b, low]) - 0.2, max([a, b, high]) + 0.6
        lane = next((k for k, used in enumerate(lanes) if all(high < u or low > v for u, v in used)), len(lanes))
        if lane == len(lanes):
            lanes.append([])
        lanes[lane].append((low, high))
        for point, x in zip(ear.points[1:], xs, strict=False):
            known[point] = x
        for point in ear.points[1:]:
            row_of.setdefault(point, lane + 1.0)
        if ear.points[-1] not in known:
            known[ear.points[-1]] = b
        found.append((lane + 1, xs[: len(ear.points) - 2]))
    return len(lanes), found


def _draw_ear(ear: _Ear, lane: float, where: dict[str, Xy], risers: dict[str, int], lines: dict[int, tuple[Xy, ...]]) -> None:
    first, last = ear.points[0], ear.points[-1]
    if lane == 0:
        (x, y), (_, below) = where[first], where[last]
        down = _riser(first, [], below - 0.22 if below > y else below + 0.22, 0.0, where, risers)
        lines[ear.branches[0]] = ((x, y), *down, where[last])
        return
    xs = [where[p][0] for p in ear.points if where[p][1] == lane]
    for k, number in enumerate(ear.branches):
        a, b = ear.points[k], ear.points[k + 1]
        line: list[Xy] = [where[a]]
        if k == 0 and where[first][1] != lane:
            line += _riser(first, xs, lane, -CHANNEL, where, risers)
        if k == len(ear.branches) - 1 and where[last][1] != lane:
            line += reversed(_riser(last, xs[::-1], lane, CHANNEL, where, risers))
        line.append(where[b])
        lines[number] = tuple(line)


def _riser(point: str, xs: list[float], lane: float, channel: float, where: dict[str, Xy], risers: dict[str, int]) -> list[Xy]:
    """Bends from a point, beside it, to the lane; where other points of the ear lie in the way, by a channel around them.

    `xs` are the columns of the ear's points in the lane, the nearest one first.
    """
    count = risers[point] = risers.get(point, -1) + 1
    x, y = where[point]
    away = x + RISER_OFFSET + RISER_STEP * count
    while any(abs(away - column) < CLEARANCE for column, _ in where.values()):
        away += CLEARANCE / 2
    bends = [(away, y + (0.22 if lane > y else -0.22))]
    if len(xs) > 1 and (away - xs[0]) * (xs[1] - xs[0]) > 0:
        outside = xs[0] + (0.5 if xs[0] > xs[1] else -0.5)
        return [*bends, (away, lane + channel), (outside, lane + channel), (outside, lane)]
    return [*bends, (away, lane)]


def _finished(network: Network, number: int, line: tuple[Xy, ...], heavy: bool) -> MapBranch:
    """Put the symbol in the middle of the longest straight stretch."""
    a, b = max(pairwise(line), key=lambda s: abs(s[1][0] - s[0][0]) + 0.8 * abs(s[1][1] - s[0][1]))
    owner = network.owners[number]
    middle = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    upright = abs(b[1] - a[1]) > abs(b[0] - a[0])
    return MapBranch(
        id=branch_id(owner, network.branches[number]),
        element=owner.id,
        line=line,
        middle=middle,
        upright=upright,
        heavy=heavy,
    )
