"""The feed map of each sheet: laid out once, its ink drawn once for each operating state."""

from collections.abc import Iterable
from functools import lru_cache
from textwrap import wrap

from markupsafe import Markup

from iron_probe.core.circuit.network import SheetKey, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.drop_bars import DropBar
from iron_probe.core.draw.feed_map import FeedMap, lay_out
from iron_probe.core.draw.labels import MapLabel, place_labels
from iron_probe.core.draw.starting_side import starting_side
from iron_probe.core.kept import Kept
from iron_probe.core.solve.operate import solve_state
from iron_probe.web.page import templates

_maps: Kept[SheetKey, FeedMap] = Kept("maps", 128)
_inks: Kept[tuple[SheetKey, str], Markup] = Kept("inks", 256)


COLUMN, ROW, ROOM = 98.0, 86.0, (40.0, 10.0)
"""A column and a row of the map as they are drawn (bench/_scale.html), and what is free beside it, and above and below, where dimension lines stand."""
LABEL_WIDTHS = (15, 24, 11)
"""Letters to a line of a label, the usual first."""
_labels: Kept[SheetKey, dict[str, MapLabel]] = Kept("map labels", 128)
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


def labels_of(sheet: Sheet) -> dict[str, MapLabel]:
    """Where the titles on a sheet's map stand, as the map is drawn."""

    def place() -> dict[str, MapLabel]:
        drawing = map_of(sheet)
        texts = {b.id: _broken(sheet.element(b.element).title, b.id.partition(".")[2]) for b in drawing.branches}
        return place_labels(drawing, texts, COLUMN, ROW, ROOM)

    return _labels.get(SheetKey(sheet), place)


def _broken(title: str, part: str) -> list[tuple[str, ...]]:
    """The ways a title may be broken into lines, each once and none losing a word."""
    text = f"{title}, {part}" if part else title
    return list(dict.fromkeys(tuple(wrap(text, width, break_long_words=False)) for width in LABEL_WIDTHS))


def ink_of(sheet: Sheet, state: str) -> Markup:
    """The wires and symbols of a sheet's map, with switches and contacts as a sound machine has them in that state."""

    def draw() -> Markup:
        network = network_of(sheet)
        solved = solve_state(network, state)
        closed = {name: bool(solved.closed[number, 0]) for name, number in network.branch_row.items()}
        return Markup(
            templates.get_template("bench/_ink.html").render(d=map_of(sheet), sheet=sheet, closed=closed, labels=labels_of(sheet))
        )

    return _inks.get((SheetKey(sheet), state), draw)
