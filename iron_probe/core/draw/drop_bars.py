"""Measured drops as dimension lines along the heavy path, inside its frame: below the supply, above the way back."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.bench.drop import DropVerdict, JudgedDrop, Side
from iron_probe.core.draw.feed_map import FeedMap

NEAREST, PITCH = 74.0, 24.0
"""From the path to its first dimension line, beyond the titles there, and between two of them."""
ROOM = 50.0
"""What more than one line may take before they close up: beyond it stands the title of the battery."""


@dataclass(frozen=True, slots=True, kw_only=True)
class DropBar:
    """One dimension line in units of the drawing: from `x1` to `x2` at `y`; `filled_x` is where the share of the allowance ends."""

    judged: JudgedDrop
    x1: float
    x2: float
    y: float
    filled_x: float
    over: bool
    proves: bool


def drop_bars(drawing: FeedMap, judged: Sequence[JudgedDrop], sides: tuple[Side, Side]) -> tuple[DropBar, ...]:
    """The latest reading of each stretch as a dimension line, short stretches nearest the path."""
    bars: list[DropBar] = []
    for side, rail, sign in ((sides[0], drawing.rails[0], 1.0), (sides[1], drawing.rails[1], -1.0)):
        column = {p.id: p.x for p in drawing.points if p.y == rail and not p.again}
        latest = {(j.first, j.last): j for j in judged if j.side == side.name}
        levels: list[list[tuple[float, float]]] = []
        placed: list[tuple[JudgedDrop, float, float, int]] = []
        for j in sorted(latest.values(), key=lambda j: (j.last - j.first, j.first)):
            x1, x2 = sorted((column[side.points[j.first]], column[side.points[j.last]]))
            level = next((k for k, used in enumerate(levels) if all(x2 <= u or x1 >= v for u, v in used)), len(levels))
            if level == len(levels):
                levels.append([])
            levels[level].append((x1, x2))
            placed.append((j, x1, x2, level))
        pitch = min(PITCH, ROOM / max(len(levels) - 1, 1))
        bars += [_bar(j, x1, x2, rail + sign * (NEAREST + pitch * level)) for j, x1, x2, level in placed]
    return tuple(bars)


def _bar(judged: JudgedDrop, x1: float, x2: float, y: float) -> DropBar:
    proves = judged.verdict in (DropVerdict.WITHIN, DropVerdict.OVER)
    filled = x1 + (x2 - x1) * min(judged.share, 1.0) if proves else x1
    return DropBar(judged=judged, x1=x1, x2=x2, y=y, filled_x=filled, over=judged.verdict is DropVerdict.OVER, proves=proves)
