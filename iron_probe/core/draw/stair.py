"""Coordinates of the drop stair: the path from battery plus to battery minus across the page, volts as height.

Two strips of one scale: the supply side hangs from the top, the ground side stands on the bottom; the volts the load
itself uses are cut out between them, so that tenths of a volt stay visible beside twelve.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from iron_probe.core.bench.drop_board import StairStep
from iron_probe.core.draw.feed_map import Xy

LEAST_SPAN_V = 0.8
"""Least loss [V] one strip shows, so that sound circuits look flat."""


@dataclass(frozen=True, slots=True, kw_only=True)
class StairPicture:
    """Lines in a page of 0..1 by 0..1, y downward. `expected` and `cold` are two strips each; `ribbon` closed polygons;
    `measured` runs of known levels; `dots` (x, y, point) of measured points; `ticks` (y, volts) of the scale."""

    expected: tuple[tuple[Xy, ...], ...]
    cold: tuple[tuple[Xy, ...], ...]
    ribbon: tuple[tuple[Xy, ...], ...]
    measured: tuple[tuple[Xy, ...], ...]
    dots: tuple[tuple[float, float, str], ...]
    ticks: tuple[tuple[float, float], ...]
    split_x: float
    load_v: float


def draw_stair(steps: Sequence[StairStep], supply_points: int) -> StairPicture:
    """Lay the steps out; the first `supply_points` of them are the supply side."""
    supply, ground = steps[:supply_points], steps[supply_points:]
    width = 1 / len(steps)
    top = max(max(s.high_v for s in supply), max((s.measured_v or 0.0) for s in supply))
    low = min(min(s.low_v, s.measured_v if s.measured_v is not None else s.low_v, s.cold_v) for s in supply)
    high = max(max(s.high_v, s.measured_v or 0.0, s.cold_v) for s in ground)
    span = max(top - low, high, LEAST_SPAN_V) * 1.06

    def y_of(volts: float, on_ground: bool) -> float:
        return 1 - 0.47 * volts / span if on_ground else 0.47 * (top - volts) / span

    def flats(levels: Sequence[float], start: int, on_ground: bool) -> tuple[Xy, ...]:
        return tuple(
            xy
            for k, v in enumerate(levels)
            for xy in (((start + k) * width, y_of(v, on_ground)), ((start + k + 1) * width, y_of(v, on_ground)))
        )

    expected, cold, ribbon, measured, dots = [], [], [], [], []
    for side, start, on_ground in ((supply, 0, False), (ground, supply_points, True)):
        expected.append(flats([s.expected_v for s in side], start, on_ground))
        cold.append(flats([s.cold_v for s in side], start, on_ground))
        upper = flats([s.high_v for s in side], start, on_ground)
        lower = flats([s.low_v for s in side], start, on_ground)
        ribbon.append((*upper, *reversed(lower)))
        known = [(start + k, s.measured_v) for k, s in enumerate(side) if s.measured_v is not None]
        for (a, at_a), (b, at_b) in pairwise(known):
            if b == a + 1:  # unmeasured spans stay open
                edge = b * width
                measured.append(
                    (
                        (a * width, y_of(at_a, on_ground)),
                        (edge, y_of(at_a, on_ground)),
                        (edge, y_of(at_b, on_ground)),
                        (edge + width, y_of(at_b, on_ground)),
                    )
                )
        dots += [((place + 0.5) * width, y_of(v, on_ground), side[place - start].point) for place, v in known]
    whole = span / 1.06
    step = next(s for s in (0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0) if whole / s <= 5)
    marks = [k * step for k in range(int(whole / step) + 1)]
    ticks = [(y_of(top - m, False), top - m) for m in marks] + [(y_of(m, True), m) for m in marks]
    return StairPicture(
        expected=tuple(expected),
        cold=tuple(cold),
        ribbon=tuple(ribbon),
        measured=tuple(measured),
        dots=tuple(dots),
        ticks=tuple(ticks),
        split_x=supply_points * width,
        load_v=supply[-1].expected_v - ground[0].expected_v,
    )
