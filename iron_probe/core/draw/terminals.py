"""A part of the control side drawn by its terminals, with the battery's posts below: what the leads are put on."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.bench.control.stations import Station
from iron_probe.core.circuit.elements import Element, Module, Relay, Solenoid
from iron_probe.core.circuit.sheet import Sheet

POST_Y = 1.0
"""Where the posts lie under the part, in its heights."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Terminal:
    """A place for a lead: its point, what is written at it, where it lies in shares of the drawing, and the first test that puts a lead there."""

    point: str
    label: str
    x: float
    y: float
    step: int | None = None
    post: bool = False


def terminals_of(station: Station, sheet: Sheet) -> tuple[Terminal, ...]:
    """The terminals of a part, and the posts its tests are read against."""
    own = _own(station)
    used = [p for s in station.steps for p in (s.reading.red, s.reading.black)]
    posts = [
        Terminal(point=p, label=label, x=x, y=POST_Y, post=True)
        for p, label, x in ((sheet.plus, "battery +", 0.25), (sheet.minus, "battery −", 0.75))
        if p in used and p not in {t[0] for t in own}
    ]
    return tuple(Terminal(point=p, label=label, x=x, y=y, step=_first(station, p)) for p, label, x, y in own) + tuple(posts)


def _first(station: Station, point: str) -> int | None:
    """The first test that has a lead on a point, its red one rather than its black."""
    reds = [k for k, s in enumerate(station.steps) if s.reading.red == point]
    either = [k for k, s in enumerate(station.steps) if point in (s.reading.red, s.reading.black)]
    return next(iter(reds or either), None)


def _own(station: Station) -> Sequence[tuple[str, str, float, float]]:
    element = station.element
    if station.socket is not None:
        return [(p.point, p.number, 0.12 + 0.76 * p.x, 0.08 + 0.6 * p.y) for p in station.socket.pins]
    if isinstance(element, Solenoid):
        return [(element.s, "S", 0.5, 0.12), (element.b, "B", 0.12, 0.42), (element.m, "M", 0.88, 0.42), (element.case, "case", 0.5, 0.7)]
    if isinstance(element, Module):
        return [(element.supply, "feed", 0.12, 0.4), (element.ground, "ground", 0.88, 0.4)]
    ends = _ends(element)
    return [(ends[0], "in", 0.12, 0.4), (ends[1], "out", 0.88, 0.4)] if ends else []


def _ends(element: Element) -> tuple[str, str] | None:
    points = element.points()
    return (points[0], points[1]) if len(points) > 1 and not isinstance(element, Relay) else None
