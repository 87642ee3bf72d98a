"""Measured drops as dimension lines along the heavy path: above the supply side, below the ground side."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.bench.drop import DropVerdict, JudgedDrop, Side
from iron_probe.core.draw.feed_map import FeedMap

NEAREST, PITCH = 0.62, 0.4
"""Rows between the path and its first dimension line, and between two of them."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DropBar:
    """One dimension line in page units: from `x1` to `x2` at `y`; `filled_x` is where the share of the allowance ends."""

    judged: JudgedDrop
    x1: float
    x2: float
    y: float
    filled_x: float
    over: bool
    proves: bool


def drop_bars(drawing: FeedMap, judged: Sequence[JudgedDrop], sides: tuple[Side, Side]) -> tuple[DropBar, ...]:
    """The latest reading of each stretch as a dimension line, short stretches nearest the path."""
    where = {p.id: p for p in drawing.points}
    bars: list[DropBar] = []
    for side, sign in ((sides[0], -1.0), (sides[1], 1.0)):
        latest = {(j.first, j.last): j for j in judged if j.side == side.name}
        levels: list[list[tuple[float, float]]] = []
        for j in sorted(latest.values(), key=lambda j: (j.last - j.first, j.first)):
            a, b = where[side.points[j.first]], where[side.points[j.last]]
            x1, x2 = min(a.x, b.x), max(a.x, b.x)
            level = next((k for k, used in enumerate(levels) if all(x2 <= u or x1 >= v for u, v in used)), len(levels))
            if level == len(levels):
                levels.append([])
            levels[level].append((x1, x2))
            y = a.y + sign * (NEAREST + PITCH * level)
            proves = j.verdict in (DropVerdict.WITHIN, DropVerdict.OVER)
            filled = x1 + (x2 - x1) * min(j.share, 1.0) if proves else x1
            bars.append(DropBar(judged=j, x1=x1, x2=x2, y=y, filled_x=filled, over=j.verdict is DropVerdict.OVER, proves=proves))
    return tuple(bars)
