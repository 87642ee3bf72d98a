"""The feed map of each sheet: laid out once, its ink drawn once for each operating state."""

from collections.abc import Iterable
from functools import lru_cache

from markupsafe import Markup

from iron_probe.core.circuit.network import SheetKey, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.drop_bars import DropBar
from iron_probe.core.draw.feed_map import FeedMap, lay_out
from iron_probe.core.draw.starting_side import starting_side
from iron_probe.core.kept import Kept
from iron_probe.core.solve.operate import solve_state
from iron_probe.web.page import templates

_maps: Kept[SheetKey, FeedMap] = Kept("maps", 128)
_inks: Kept[tuple[SheetKey, str], Markup] = Kept("inks", 256)


_points: Kept[SheetKey, Markup] = Kept("map points", 128)
_dimensions: Kept[DropBar, Markup] = Kept("dimension lines", 4096)
_options: Kept[tuple[SheetKey, str], Markup] = Kept("options", 256)


def options_of(sheet: Sheet, what: str, options: Iterable[tuple[str, str]]) -> Markup:
    """The options (value, text) of a field that every page of a sheet shows, drawn once; `chosen` marks one of them."""
    drawn = lambda: Markup("").join(Markup('<option value="{}">{}</option>').format(value, title) for value, title in options)  # noqa: E731
    return _options.get((SheetKey(sheet), what), drawn)


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
    return _dimensions.get(bar, lambda: Markup(templates.get_template("bench/_dimension.html").render(bar=bar)))


def points_of(sheet: Sheet) -> Markup:
    """The points of a sheet's map, to be tapped, drawn once."""
    return _points.get(SheetKey(sheet), lambda: Markup(templates.get_template("bench/_points.html").render(d=map_of(sheet), sheet=sheet)))


def map_of(sheet: Sheet) -> FeedMap:
    """Coordinates of a sheet's map."""
    return _maps.get(SheetKey(sheet), lambda: lay_out(network_of(starting_side(sheet))))


def ink_of(sheet: Sheet, state: str) -> Markup:
    """The wires and symbols of a sheet's map, with switches and contacts as a sound machine has them in that state."""

    def draw() -> Markup:
        network = network_of(sheet)
        solved = solve_state(network, state)
        closed = {name: bool(solved.closed[number, 0]) for name, number in network.branch_row.items()}
        return Markup(templates.get_template("bench/_ink.html").render(d=map_of(sheet), sheet=sheet, closed=closed))

    return _inks.get((SheetKey(sheet), state), draw)
