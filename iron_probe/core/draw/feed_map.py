"""Coordinates of the feed map, drawn in tracks: the heavy path as a thick frame on its own side, beside it the rails of the feed with their tracks hanging
down to ground. Lines run along the page or down it and cross nothing; a point that is needed elsewhere is drawn there again, by its name.

Units of the drawing, x to the right and y downward; text is placed with the lines it is broken into, in the sizes of `LETTER`.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import groupby, pairwise
from math import ceil
from textwrap import wrap
from typing import Literal

from iron_probe.core.circuit.elements import Conductor, Fuse, Joint
from iron_probe.core.circuit.heavy_path import HeavyPath, heavy_path
from iron_probe.core.circuit.network import Network, branch_id
from iron_probe.core.draw.tracks import Rail, Track, source_of, take_apart

Xy = tuple[float, float]

TOP, PITCH, FOOT = 54.0, 60.0, 58.0
"""Where the plus rail lies, what a row takes, and the room below the ground rail."""
SOURCE_ROWS = 1.5
"""Rows a part of the source takes: its title and its point's stand above each other."""
SIDE = 84.0
"""Room left of the heavy path."""
SPAN = 108.0
"""Least between two points of the heavy path."""
LETTER, LINE = 5.6, 12.5
"""Widest mean width of a letter, and height of a line of text."""
BROAD, NARROW = 20, 17
"""Letters to a line beside a track and along the heavy path, where a title has no more than its lines can hold."""
LEAD_IN, CLEAR, BESIDE = 17.0, 12.0, 19.0
"""Left of a track, right of its text, and from a track to the text beside its symbols."""
FOLDED = 30.0
"""What a folded track takes."""
SHORT = 20.0
"""How far a folded track hangs down before its name."""
BETWEEN_RAILS = 26.0


class Side(StrEnum):
    """What a point belongs to: the heavy supply, the heavy way back, or the light circuit."""

    SUPPLY = "supply"
    GROUND = "ground"
    LIGHT = "light"


@dataclass(frozen=True, slots=True)
class MapLabel:
    """Text: where its first line stands (by `anchor`, on the baseline), and its lines; `hanging` when they read down the page."""

    x: float
    y: float
    anchor: Literal["start", "middle", "end"]
    lines: tuple[str, ...]
    hanging: bool = False

    @property
    def placed(self) -> tuple[tuple[float, float, str], ...]:
        """Each line with where it stands."""
        aside, down = (-LINE, 0.0) if self.hanging else (0.0, LINE)
        return tuple((self.x + k * aside, self.y + k * down, line) for k, line in enumerate(self.lines))


@dataclass(frozen=True, slots=True)
class MapPoint:
    """A probe point, drawn; `again` when it is a point that has its own place elsewhere, `earth` when the ground sign hangs from it."""

    id: str
    x: float
    y: float
    side: Side
    label: MapLabel
    again: bool = False
    earth: bool = False

    @property
    def figure_y(self) -> float:
        """Where a figure stands in place of its title: next to the point."""
        return self.label.placed[0 if self.label.y > self.y else -1][1]


@dataclass(frozen=True, slots=True)
class MapBranch:
    """A branch as a polyline; its symbol stands at `middle`, `upright` when that stretch runs down the page."""

    id: str
    element: str
    line: tuple[Xy, ...]
    middle: Xy
    upright: bool
    heavy: bool
    label: MapLabel

    @property
    def figure_y(self) -> float:
        """Where a figure stands beside the title of a part of the heavy path, on the far side of its line."""
        return self.label.y + LINE * len(self.label.lines) if self.label.y > self.middle[1] else self.label.y - LINE


@dataclass(frozen=True, slots=True)
class MapStub:
    """A folded track, named by its first branch: the line to it, its title and where that stands, and the points that are in it."""

    id: str
    line: tuple[Xy, ...]
    title: str
    label: MapLabel
    points: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class MapBox:
    """A band behind fuses side by side that sit in one box."""

    name: str
    left: float
    right: float
    top: float
    name_x: float


@dataclass(frozen=True, slots=True)
class FeedMap:
    """All coordinates, with the size of the drawing, and the heights of its two rails."""

    width: float
    height: float
    rails: tuple[float, float]
    points: tuple[MapPoint, ...]
    branches: tuple[MapBranch, ...]
    stubs: tuple[MapStub, ...]
    boxes: tuple[MapBox, ...]

    def place_of(self, point: str) -> MapPoint | None:
        """Where a point stands: at home, or where it is named again; None while it is in a folded track."""
        return min((p for p in self.points if p.id == point), key=lambda p: p.again, default=None)


Opens = Callable[[Track], bool]


def lay_out(network: Network, opens: Opens = lambda track: True) -> FeedMap:
    """Place every point and branch of the sheet, tracks that `opens` denies folded; raises SolveError when it has no heavy path."""
    heavy = heavy_path(network)
    rails = take_apart(network, heavy)
    rows = max([5, *(t.bottom for rail in rails for t in rail.tracks), ceil(len(source_of(network, heavy)[1]) * SOURCE_ROWS)])
    plate = _Plate(network, heavy, TOP + rows * PITCH, opens)
    right = plate.heavy_side()
    for rail in rails:
        right = plate.rail(rail, right + BETWEEN_RAILS)
    return FeedMap(
        width=right,
        height=plate.ground_y + FOOT,
        rails=(TOP, plate.ground_y),
        points=_at_home(plate.points),
        branches=tuple(plate.branches),
        stubs=tuple(plate.stubs),
        boxes=_boxes(network, plate.branches),
    )


def _at_home(points: Sequence[MapPoint]) -> tuple[MapPoint, ...]:
    """The points, those at home first: each has one home, the first place it is drawn in where none was its own."""
    homes = {p.id for p in points if not p.again}
    found = []
    for p in points:
        found.append(p if not p.again or p.id in homes else replace(p, again=False))
        homes.add(p.id)
    return tuple(sorted(found, key=lambda p: p.again))


def broken(text: str, width: int, most: int) -> tuple[str, ...]:
    """A title in lines of that width, broader where it would take more lines than `most`; none loses a word."""
    while len(lines := wrap(text, width, break_long_words=False)) > most:
        width += 1
    return tuple(lines)


def track_key(network: Network, track: Track) -> str:
    """What a track is called: its first branch."""
    return branch_id(network.owners[track.branches[0]], network.branches[track.branches[0]])


def _widest(labels: Sequence[tuple[str, ...]]) -> float:
    return LETTER * max((len(line) for lines in labels for line in lines), default=0)


class _Plate:
    """The drawing while it grows to the right."""

    def __init__(self, network: Network, heavy: HeavyPath, ground_y: float, opens: Opens) -> None:
        self.network, self.heavy, self.ground_y, self.opens = network, heavy, ground_y, opens
        self.points: list[MapPoint] = []
        self.branches: list[MapBranch] = []
        self.stubs: list[MapStub] = []

    def heavy_side(self) -> float:
        """The heavy path: supply along the top, its load down the right, the way back along the bottom, the battery down the left. Returns its right edge."""
        heavy = self.heavy
        stretches = max(len(heavy.supply), len(heavy.ground), 2)
        said = [self.title_of(p) for p in (*heavy.supply_points, *heavy.ground_points)]
        said += [self.name_of(self.network.branch_row[b]) for b in (*heavy.supply, *heavy.ground)]
        left = self._source()
        right = left + max(SPAN, _widest([broken(text, NARROW, 3) for text in said]) + 6) * stretches
        for points, names, side, y in (
            (heavy.supply_points, heavy.supply, Side.SUPPLY, TOP),
            (heavy.ground_points[::-1], heavy.ground[::-1], Side.GROUND, self.ground_y),
        ):
            step = (right - left) / max(len(names), 1)
            xs = [left + step * k for k in range(len(names))] + [right]
            for point, x in zip(points, xs, strict=True):
                lines = broken(self.title_of(point), NARROW, 3)
                first = y - 14 - LINE * (len(lines) - 1) if side is Side.SUPPLY else y + 26
                self.points.append(MapPoint(point, x, y, side, MapLabel(x, first, "middle", lines)))
            for name, (a, b) in zip(names, pairwise(xs), strict=True):
                lines = broken(self.name_of(self.network.branch_row[name]), NARROW, 3)
                first = y + 30 if side is Side.SUPPLY else y - 22 - LINE * (len(lines) - 1)
                middle = ((a + b) / 2, y)
                self._branch(
                    self.network.branch_row[name], ((a, y), (b, y)), middle, MapLabel(middle[0], first, "middle", lines), heavy=True
                )
        load = self.network.branch_row[heavy.load]
        self._upright(load, right, TOP, self.ground_y, heavy=True, reach=30.0)
        beside = _widest([broken(self.name_of(load), BROAD, 2)])
        return right + 30 + beside + CLEAR

    def _source(self) -> float:
        """The battery, or batteries in series, down the left, named on its outer side. Returns where it stands."""
        points, numbers = source_of(self.network, self.heavy)
        names, titles = [broken(self.name_of(n), NARROW, 2) for n in numbers], [broken(self.title_of(p), NARROW, 2) for p in points[1:-1]]
        x = max(SIDE, _widest([*names, *titles]) + BESIDE + CLEAR)
        step = (self.ground_y - TOP) / max(len(numbers), 1)
        for k, (number, lines) in enumerate(zip(numbers, names, strict=True)):
            above, below = TOP + k * step, TOP + (k + 1) * step
            middle = (x, (above + below) / 2)
            label = MapLabel(x - BESIDE, middle[1] + 4 - LINE * (len(lines) - 1) / 2, "end", lines)
            self._branch(number, ((x, above), (x, below)), middle, label, heavy=True)
        for k, (point, lines) in enumerate(zip(points[1:-1], titles, strict=True), start=1):
            y = TOP + k * step
            self.points.append(MapPoint(point, x, y, Side.LIGHT, MapLabel(x - BESIDE, y - 7 - LINE * (len(lines) - 1), "end", lines)))
        return x

    def rail(self, rail: Rail, left: float) -> float:
        """A point with its tracks hanging side by side. Returns the right edge."""
        cursor, x = self.track(rail.tracks[0], left, None)
        for track in rail.tracks[1:]:
            cursor, _ = self.track(track, cursor, x)
        lines = broken(self.title_of(rail.point), BROAD, 2)
        label = MapLabel(x - 6, TOP - 14 - LINE * (len(lines) - 1), "start", lines)
        self.points.append(MapPoint(rail.point, x, TOP, Side.LIGHT, label, again=not rail.home))
        return max(cursor, x - 6 + _widest([lines]) + CLEAR)

    def track(self, track: Track, left: float, from_x: float | None) -> tuple[float, float]:
        """A track that hangs from `from_x` (itself at the top of its rail where None), and what hangs from it. Returns the right edge and its own x."""
        y = TOP + track.row * PITCH
        if not any(self.opens(t) for t in track.whole()):
            return self._fold(track, left, from_x, y)
        x = left + LEAD_IN
        names = [broken(self.name_of(n), BROAD, 2) for n in track.branches]
        titles = [broken(self.title_of(p), BROAD, 2) for p in track.points[1:]]
        for k, number in enumerate(track.branches):
            last = k == len(track.branches) - 1
            above, below = y + k * PITCH, self.ground_y if last and track.grounded else y + (k + 1) * PITCH
            self._upright(number, x, above, below, start=from_x if k == 0 else None)
            self._named(track.points[k + 1], x, below, again=last and (track.joins or track.grounded), earth=last and track.grounded)
        cursor = x + BESIDE + _widest([*names, *titles]) + CLEAR
        for child in sorted(track.children, key=lambda c: -c.row):  # the lowest hangs nearest, so that none has to pass another
            cursor, _ = self.track(child, cursor, x)
        return cursor, x

    def _fold(self, track: Track, left: float, from_x: float | None, y: float) -> tuple[float, float]:
        x = left + FOLDED / 2
        start = x if from_x is None else from_x
        line = ((start, y), (x, y), (x, y + SHORT)) if start != x else ((x, y), (x, y + SHORT))
        owners = [self.network.owners[n] for n in track.branches]
        named = next(
            (o for o in owners if isinstance(o, Fuse)), next((o for o in owners if not isinstance(o, Joint | Conductor)), owners[0])
        )
        inside = tuple(dict.fromkeys(p for t in track.whole() for p in t.points[1:]))
        room, key = self.ground_y + FOOT - y - SHORT - 18, track_key(self.network, track)
        if room >= LETTER * max(len(named.title) / 2, 12):
            lines = broken(named.title, int(room / LETTER), 2)
            label = MapLabel(x - 4 + LINE * (len(lines) - 1), y + SHORT + 12, "start", lines, hanging=True)
            right = left + FOLDED + LINE * (len(lines) - 1)
        else:  # too far down for a name that hangs
            lines = broken(named.title, BROAD, 2)
            label = MapLabel(x + 10, y + SHORT, "start", lines)
            right = x + 10 + _widest([lines]) + CLEAR
        self.stubs.append(MapStub(key, line, named.title, label, inside))
        return right, x

    def name_of(self, number: int) -> str:
        """The title of a branch: its element's, and which part of it."""
        owner, branch = self.network.owners[number], self.network.branches[number]
        return f"{owner.title}, {branch.name}" if branch.name else owner.title

    def title_of(self, point: str) -> str:
        return self.network.sheet.points[point].title

    def _named(self, point: str, x: float, y: float, again: bool = False, earth: bool = False) -> None:
        lines = broken(self.title_of(point), BROAD, 2)
        label = (
            MapLabel(x - 8, y + 32, "start", lines)
            if earth
            else MapLabel(x + (BESIDE if len(lines) > 1 else BESIDE - 8), y - 7 - LINE * (len(lines) - 1), "start", lines)
        )
        self.points.append(MapPoint(point, x, y, Side.LIGHT, label, again, earth))

    def _upright(
        self, number: int, x: float, above: float, below: float, start: float | None = None, heavy: bool = False, reach: float = BESIDE
    ) -> None:
        lines = broken(self.name_of(number), BROAD, 2)
        middle = (x, (above + below) / 2 if heavy else above + PITCH / 2)
        top = middle[1] - 9 - LINE * (len(lines) - 1) / 2 + (4 if heavy else 0)
        line = ((x, above), (x, below)) if start is None or start == x else ((start, above), (x, above), (x, below))
        self._branch(number, line, middle, MapLabel(x + reach, top, "start", lines), heavy)

    def _branch(self, number: int, line: tuple[Xy, ...], middle: Xy, label: MapLabel, heavy: bool) -> None:
        owner = self.network.owners[number]
        upright = line[-1][0] == line[-2][0]
        self.branches.append(MapBranch(branch_id(owner, self.network.branches[number]), owner.id, line, middle, upright, heavy, label))


def _boxes(network: Network, branches: Sequence[MapBranch]) -> tuple[MapBox, ...]:
    """Bands behind runs of fuses of one box that hang side by side."""
    found = []
    held = [(b, network.sheet.element(b.element).box) for b in branches if not b.heavy]
    for (box, y), run in groupby(held, key=lambda pair: (pair[1], pair[0].middle[1])):
        side_by_side = [b for b, _ in run]
        if box and len(side_by_side) > 1:
            xs = [b.middle[0] for b in side_by_side]
            right = side_by_side[-1].label
            found.append(MapBox(box, xs[0] - LEAD_IN, right.x + _widest([right.lines]), y - PITCH / 2 + 3, xs[1]))
    return tuple(found)
