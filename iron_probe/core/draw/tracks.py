"""A machine's light circuit taken apart into tracks, as a printed plate shows it: each a way of current from the point that feeds it down to where it ends.

A track ends at ground, at a point that stands elsewhere on the plate, or nowhere. Where a way divides in two, the second hangs beside the first; where it
divides in more, or grows too long, the point begins a rail of its own. So no line ever has to cross another: what joins two places of the plate is a name.
"""

from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import pairwise

import networkx as nx

from iron_probe.core.circuit.elements import BranchKind, Conductor, Joint
from iron_probe.core.circuit.heavy_path import HeavyPath
from iron_probe.core.circuit.network import Network

LONGEST = 6
"""Branches down a track, one more where it then ends: more would not stand on a screen at a size that can be read."""
FAN = 3
"""A point with so many ways down begins a rail of its own."""


@dataclass(slots=True)
class Track:
    """A way down: its `points`, the feeding one first, and the numbers of the branches between them; `row` is how many rows down it begins. `children` hang
    from its points. `grounded` when it ends at a point of the way back, `joins` when at another point that stands elsewhere."""

    points: list[str]
    branches: list[int]
    row: int
    grounded: bool = False
    joins: bool = False
    children: list["Track"] = field(default_factory=list)

    @property
    def bottom(self) -> int:
        """The row it ends in, with all that hangs from it."""
        return max(self.row + len(self.branches), *(c.bottom for c in self.children), 0)

    def whole(self) -> Iterator["Track"]:
        """It, and all that hangs from it."""
        yield self
        for child in self.children:
            yield from child.whole()


@dataclass(frozen=True, slots=True)
class Rail:
    """A point and the tracks that hang from it; `home` where the point stands nowhere else on the plate."""

    point: str
    tracks: tuple[Track, ...]
    home: bool = False


def take_apart(network: Network, heavy: HeavyPath) -> tuple[Rail, ...]:
    """All branches but the heavy path and its source, as rails in the order of the feed; the light ways back to ground come last."""
    taking = _Taking(network, heavy)
    rails: list[Rail] = []
    for point in dict.fromkeys((*heavy.supply_points, *taking.source)):
        rails += taking.rails_from(point)
    for point in taking.stars:
        rails += taking.rails_from(point, home=True)
    while (left := taking.first_left()) is not None:  # what nothing on the plate feeds: a stator's windings, a line between modules
        rails += taking.rails_from(left[0], home=left[0] not in taking.placed, first=left[1])
    return tuple(rails)


def source_of(network: Network, heavy: HeavyPath) -> tuple[tuple[str, ...], tuple[int, ...]]:
    """Points and branch numbers from battery plus through a battery, or batteries in series, down to battery minus; empty where none joins the posts."""
    ways: nx.Graph[str] = nx.Graph()
    along = {network.branch_row[name] for name in (*heavy.supply, heavy.load, *heavy.ground)}
    for number, (owner, branch) in enumerate(zip(network.owners, network.branches, strict=True)):
        if number not in along and (branch.kind is BranchKind.BATTERY or isinstance(owner, Joint | Conductor)):
            ways.add_edge(branch.start, branch.end, number=number)
    plus, minus = network.sheet.plus, network.sheet.minus
    ways.remove_nodes_from([p for p in (*heavy.supply_points, *heavy.ground_points) if p in ways and p not in (plus, minus)])
    if plus not in ways or minus not in ways or not nx.has_path(ways, plus, minus):
        return (), ()
    points = nx.shortest_path(ways, plus, minus)
    return tuple(points), tuple(ways.edges[a, b]["number"] for a, b in pairwise(points))


class _Taking:
    """What is taken and placed while a circuit is taken apart."""

    def __init__(self, network: Network, heavy: HeavyPath) -> None:
        self.network = network
        self.source, across = source_of(network, heavy)
        self.used = {*across, *(network.branch_row[name] for name in (*heavy.supply, heavy.load, *heavy.ground))}
        self.order = {p: k for k, p in enumerate(network.points)}
        self.at: dict[str, list[int]] = {p: [] for p in network.points}
        for number, branch in enumerate(network.branches):
            if number not in self.used:
                self.at[branch.start].append(number)
                if branch.end != branch.start:
                    self.at[branch.end].append(number)
        self.placed = {*self.source, *heavy.supply_points, *heavy.ground_points}
        self.way_back = self._ways_back(heavy)
        self.stars = [p for p in self.way_back if p not in self.placed and len(self.at[p]) >= FAN]
        self.earth = {*heavy.ground_points, *self.stars}
        self.depth: dict[str, int] = {}
        self.switched = _switched(network, heavy)
        self._sound([p for p in heavy.supply_points if p not in self.earth | self.switched])
        self.onward: deque[str] = deque()

    def rails_from(self, point: str, home: bool = False, first: int | None = None) -> list[Rail]:
        """The rail of a point, and those that tracks of it begin farther down; none where nothing is left to take there. `first` is a branch to take in any
        case."""
        if home:
            self.placed.add(point)
        found: list[Rail] = []
        self.onward.append(point)
        while self.onward:
            start = self.onward.popleft()
            forced = [self._walk(start, first, 0)] if first is not None and not found else []
            tracks = (*forced, *self._hanging(start, 0))
            if tracks:
                found.append(Rail(start, tracks, home and start == point))
        return found

    def first_left(self) -> tuple[str, int] | None:
        """A branch not yet taken and the end of it to begin at, a placed one if there is one."""
        left = [n for n in range(len(self.network.branches)) if n not in self.used]
        ends = [(p, n) for n in left for p in (self.network.branches[n].start, self.network.branches[n].end)]
        if not ends:
            return None
        start, number = min(ends, key=lambda end: (end[0] in self.earth, end[0] not in self.placed, self.order[end[0]], end[1]))
        self.depth = {}
        self._sound([start])
        return start, number

    def _hanging(self, point: str, row: int) -> list[Track]:
        """The tracks of the ways down from a point that nobody has taken yet."""
        return [self._walk(point, number, row) for number in self._down(point) if number not in self.used]

    def _walk(self, start: str, number: int, row: int) -> Track:
        track = Track([start], [], row)
        while True:
            point = self._other(number, track.points[-1])
            self.used.add(number)
            track.branches.append(number)
            track.points.append(point)
            if point in self.placed or point in self.earth:
                track.grounded, track.joins = point in self.earth, point not in self.earth
                break
            self.placed.add(point)
            down = self._down(point)
            if not down:
                break
            if len(down) >= FAN or (row + len(track.branches) >= LONGEST and not self._ends_with(point, down)):
                self.onward.append(point)
                break
            number = down[0]
        for k, point in enumerate(track.points[1:-1], start=1):
            track.children += self._hanging(point, row + k)
        return track

    def _ends_with(self, point: str, down: list[int]) -> bool:
        """Whether one more branch ends the way down from a point."""
        if len(down) > 1:
            return False
        last = self._other(down[0], point)
        return last in self.placed or last in self.earth or not self._down(last, before=down[0])

    def _down(self, point: str, before: int = -1) -> list[int]:
        """Branches by which current leaves a point downward, in the sheet's order: in the metal of the ground the one way back, elsewhere all that lead
        farther from the feed."""
        if point in self.way_back:
            back = self.way_back[point]
            return [back] if back not in self.used and back != before else []
        return [n for n in self.at[point] if n not in self.used and n != before and self._leads_down(point, self._other(n, point))]

    def _leads_down(self, point: str, other: str) -> bool:
        if other in self.earth or other in self.way_back or other in self.switched:
            return True
        here, there = (self.depth.get(p, len(self.depth)) for p in (point, other))
        return (here, self.order[point]) < (there, self.order[other])

    def _other(self, number: int, point: str) -> str:
        branch = self.network.branches[number]
        return branch.end if branch.start == point else branch.start

    def _ways_back(self, heavy: HeavyPath) -> dict[str, int]:
        """Points joined to the way back by metal alone, nearest first, with the branch that leads there."""
        found: dict[str, int] = {}
        queue, seen = deque(heavy.ground_points), {*heavy.ground_points, *heavy.supply_points}
        while queue:
            point = queue.popleft()
            for number in self.at[point]:
                other = self._other(number, point)
                if other not in seen and isinstance(self.network.owners[number], Joint | Conductor):
                    seen.add(other)
                    found[other] = number
                    queue.append(other)
        return found

    def _sound(self, starts: list[str]) -> None:
        """How many branches each point lies from the feed, not through ground."""
        queue = deque(starts)
        self.depth.update(dict.fromkeys(starts, 0))
        while queue:
            point = queue.popleft()
            for number in self.at[point]:
                other = self._other(number, point)
                if other not in self.depth and not (other in self.earth or other in self.way_back or other in self.switched):
                    self.depth[other] = self.depth[point] + 1
                    queue.append(other)


def _switched(network: Network, heavy: HeavyPath) -> set[str]:
    """Points of the supply that only the last contact before its load feeds: what commands that contact is no way down from them."""
    last = max(
        (k for k, name in enumerate(heavy.supply) if network.branches[network.branch_row[name]].kind is BranchKind.CONTACT),
        default=len(heavy.supply),
    )
    return set(heavy.supply_points[last + 1 :])
