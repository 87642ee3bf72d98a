"""The feed map of each sheet for a kind of work: laid out once, its ink drawn once for each operating state."""

from collections.abc import Collection, Iterable
from dataclasses import dataclass, replace
from functools import lru_cache

from markupsafe import Markup

from iron_probe.core.circuit.network import SheetKey, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.draw.drop_bars import DropBar
from iron_probe.core.draw.feed_map import FeedMap, lay_out, track_key
from iron_probe.core.draw.tracks import Track
from iron_probe.core.draw.what_matters import needed
from iron_probe.core.kept import Kept
from iron_probe.core.solve.operate import solve_state
from iron_probe.web.language import spoken
from iron_probe.web.page import templates

ALL = "all"
"""Said for every track at once."""


@dataclass(frozen=True, slots=True)
class Folding:
    """Which tracks of a sheet stand open: those its `work` needs, and those `opened` by hand or by the step; all of them where no work is named."""

    sheet: SheetKey
    work: Scope | None = None
    opened: frozenset[str] = frozenset()


_maps: Kept[Folding, FeedMap] = Kept("maps", 128)
_inks: Kept[tuple[Folding, str], Markup] = Kept("inks", 256)
_points: Kept[Folding, Markup] = Kept("map points", 128)
_stubs: Kept[tuple[str, Folding], Markup] = Kept("map stubs", 128)
_needed: Kept[tuple[SheetKey, Scope], frozenset[str]] = Kept("needed", 128)
_dimensions: Kept[tuple[str, DropBar], Markup] = Kept("dimension lines", 4096)
_options: Kept[tuple[SheetKey, str], Markup] = Kept("options", 256)


def options_of(sheet: Sheet, what: str, options: Iterable[tuple[str, str]]) -> Markup:
    """The options (value, text) of a field that every page of a sheet shows, drawn once; `chosen` marks one of them."""
    drawn = lambda: Markup("").join(Markup('<option value="{}">{}</option>').format(value, title) for value, title in options)  # noqa: E731
    return _options.get((SheetKey(sheet), what), drawn)


def point_list(sheet: Sheet) -> Markup:
    """What a field that names a point offers while one types: titles, each with the sheet's own name for it."""

    def drawn() -> Markup:
        options = (Markup('<option value="{}" data-id="{}"></option>').format(p.title, name) for name, p in sheet.points.items())
        return Markup('<datalist id="point-list">{}</datalist>').format(Markup("").join(options))

    return _options.get((SheetKey(sheet), "point list"), drawn)


def chosen(options: Markup, value: str) -> Markup:
    """Options with one of them chosen."""
    mark = Markup('<option value="{}"').format(value)
    return Markup(str(options).replace(mark, f"{mark} selected", 1))


@lru_cache(maxsize=2048)
def polyline(points: tuple[tuple[float, float], ...], inside: tuple[float, float, float, float]) -> str:
    """Points of a page of 0..1 by 0..1 as the points of a line, `inside` a rectangle (left, top, width, height)."""
    left, top, width, height = inside
    return " ".join(f"{left + x * width:.1f},{top + y * height:.1f}" for x, y in points)


def dimension_of(bar: DropBar) -> Markup:
    """The dimension line of a measured drop, drawn once for all it shows."""
    return _dimensions.get((spoken(), bar), lambda: Markup(templates.get_template("bench/_dimension.html").render(bar=bar)))


def folding_of(sheet: Sheet, work: Scope, opened: Collection[str], seen: Collection[str]) -> Folding:
    """How a sheet's map is folded for a kind of work, with the tracks `opened` and those in which points to be `seen` lie."""
    key = SheetKey(sheet)
    if ALL in opened:
        return Folding(key)
    known = network_of(sheet).branch_row
    folding = Folding(key, work, frozenset(track for track in opened if track in known))
    for point in seen:
        while point in sheet.points and map_of(folding).place_of(point) is None:  # a track may hang folded from one that is opened
            holding = next((s.id for s in map_of(folding).stubs if point in s.points), None)
            if holding is None:  # it lies in no track: nothing to open
                break
            folding = replace(folding, opened=folding.opened | {holding})
    return folding


def map_of(folding: Folding) -> FeedMap:
    """Coordinates of a sheet's map."""

    def draw() -> FeedMap:
        network, work = network_of(folding.sheet.sheet), folding.work
        if work is None:
            return lay_out(network)
        wanted = _needed.get((folding.sheet, work), lambda: needed(folding.sheet.sheet, work))

        def opens(track: Track) -> bool:
            return track_key(network, track) in folding.opened or any(network.owners[n].id in wanted for n in track.branches)

        return lay_out(network, opens)

    return _maps.get(folding, draw)


def points_of(folding: Folding) -> Markup:
    """The points of a sheet's map, to be tapped, drawn once."""
    return _points.get(
        folding, lambda: Markup(templates.get_template("bench/_points.html").render(d=map_of(folding), sheet=folding.sheet.sheet))
    )


def stubs_of(folding: Folding, opened: str) -> Markup:
    """The ends of the tracks that stand folded, each to be tapped open beside those that are, drawn once."""
    return _stubs.get(
        (spoken(), folding), lambda: Markup(templates.get_template("bench/_stubs.html").render(d=map_of(folding), opened=opened))
    )


def ink_of(folding: Folding, state: str) -> Markup:
    """The wires and symbols of a sheet's map, with switches and contacts as a sound machine has them in that state."""

    return _inks.get((folding, state), lambda: drawn(map_of(folding), folding.sheet.sheet, state))


def drawn(drawing: FeedMap, sheet: Sheet, state: str) -> Markup:
    """The wires and symbols of a drawing, or of a piece of one."""
    network = network_of(sheet)
    solved = solve_state(network, state)
    closed = {name: bool(solved.closed[number, 0]) for name, number in network.branch_row.items()}
    return Markup(templates.get_template("bench/_ink.html").render(d=drawing, sheet=sheet, closed=closed))
