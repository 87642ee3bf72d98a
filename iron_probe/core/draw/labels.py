"""Where the titles of a map's branches stand: beside their own line, and over no other title, line, symbol or point where there is room.

Worked out once for a drawing, whatever is read on it: a label never moves. In units of the drawn map, x to the right and y downward.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.draw.feed_map import FeedMap, MapBranch

LETTER, LINE = 5.5, 12.0
"""Mean width of a letter and height of a line of a label."""
SYMBOL, POINT = (18.0, 14.0), 8.0
"""Half the width and height of a symbol lying along its line, and half the size of a point."""
PASSES = 3
"""How often each label is placed anew among the others."""
TEXT, LINES, SIGNS, EDGE = 30.0, 9.0, 20.0, 60.0
"""What a label over another label, a line, a symbol or point, or the edge of the plate costs, against being far from its symbol (one a unit of `FAR`)."""
FAR = 40.0
STILL = 1e-9
"""A segment that moves less along an axis stands still on it."""

Anchor = Literal["start", "middle", "end"]


@dataclass(frozen=True, slots=True)
class MapLabel:
    """A branch's title: where its first line begins (by `anchor`, on the baseline), and its lines."""

    x: float
    y: float
    anchor: Anchor
    lines: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _Offer:
    """A label where it could stand, the box it takes, and how far that is from its symbol."""

    label: MapLabel
    box: tuple[float, float, float, float]
    far: float


def place_labels(
    drawing: FeedMap, texts: Mapping[str, Sequence[tuple[str, ...]]], column: float, row: float, room: tuple[float, float]
) -> dict[str, MapLabel]:
    """A place for each branch's title, by branch; `texts` are the ways a title may be broken into lines, `column` and `row` what a unit of the drawing is
    drawn as, `room` what is free beside it, and above and below."""
    scaled = {b.id: [(x * column, y * row) for x, y in b.line] for b in drawing.branches}
    segments = np.array([(*p, *q) for line in scaled.values() for p, q in pairwise(line)])
    points = np.array([(p.x * column - POINT, p.y * row - POINT, p.x * column + POINT, p.y * row + POINT) for p in drawing.points])
    signs = np.array([_sign_box(b, column, row) for b in drawing.branches])
    solid = np.concatenate([points, signs])
    plate = (-room[0], -room[1], drawing.columns * column + room[0], drawing.rows * row + room[1])
    offers = {b.id: _offers(b, scaled[b.id], texts[b.id], column, row) for b in drawing.branches}
    boxes = {name: np.array([o.box for o in some]) for name, some in offers.items()}
    fixed = {name: _fixed_cost(boxes[name], np.array([o.far for o in some]), segments, solid, plate) for name, some in offers.items()}
    chosen: dict[str, int] = {}
    for _ in range(PASSES):
        for name in sorted(offers, key=lambda name: float(fixed[name].min()), reverse=True):  # the hardest to place go first
            taken = [boxes[other][k] for other, k in chosen.items() if other != name]
            over = _over(boxes[name], np.array(taken)).sum(axis=1) if taken else 0.0
            chosen[name] = int(np.argmin(fixed[name] + TEXT * over))
    return {name: offers[name][k].label for name, k in chosen.items()}


def _sign_box(branch: MapBranch, column: float, row: float) -> tuple[float, float, float, float]:
    x, y = branch.middle[0] * column, branch.middle[1] * row
    half_x, half_y = SYMBOL[::-1] if branch.upright else SYMBOL
    return x - half_x, y - half_y, x + half_x, y + half_y


def _offers(
    branch: MapBranch, line: Sequence[tuple[float, float]], ways: Sequence[tuple[str, ...]], column: float, row: float
) -> list[_Offer]:
    """Places beside each stretch of a branch: above and below one that lies, right and left of one that stands."""
    symbol = branch.middle[0] * column, branch.middle[1] * row
    found = []
    for (x1, y1), (x2, y2) in pairwise(line):
        upright = abs(y2 - y1) > abs(x2 - x1)
        for share in (0.5, 0.28, 0.72):
            x, y = x1 + share * (x2 - x1), y1 + share * (y2 - y1)
            for lines in ways:
                for gap in (14.0, 24.0):
                    for offer in _beside(x, y, lines, gap, upright):
                        left, top, right, bottom = offer[1]
                        away = max(abs((left + right) / 2 - symbol[0]) - (right - left) / 2, 0) + max(
                            abs((top + bottom) / 2 - symbol[1]) - (bottom - top) / 2, 0
                        )
                        found.append(_Offer(offer[0], offer[1], away / FAR + 0.3 * (gap > 20) + 0.2 * (len(lines) > 2)))
    return found


def _beside(
    x: float, y: float, lines: tuple[str, ...], gap: float, upright: bool
) -> list[tuple[MapLabel, tuple[float, float, float, float]]]:
    """A label on the two sides of a spot of a line."""
    width, height = LETTER * max(len(t) for t in lines), LINE * len(lines)
    if upright:
        top = y - height / 2
        right, left = x + gap, x - gap
        return [
            (MapLabel(right, top + LINE - 2, "start", lines), (right, top, right + width, top + height)),
            (MapLabel(left, top + LINE - 2, "end", lines), (left - width, top, left, top + height)),
        ]
    above, below = y - gap - height, y + gap
    sides = (x - width / 2, x + width / 2)
    return [(MapLabel(x, top + LINE - 2, "middle", lines), (sides[0], top, sides[1], top + height)) for top in (above, below)]


def _fixed_cost(boxes: Floats, far: Floats, segments: Floats, solid: Floats, plate: tuple[float, float, float, float]) -> Floats:
    """What places cost by what does not move: lines, symbols, points, the edge of the plate, the way to the symbol."""
    out = (boxes[:, 0] < plate[0]) | (boxes[:, 1] < plate[1]) | (boxes[:, 2] > plate[2]) | (boxes[:, 3] > plate[3])
    cost: Floats = LINES * _crossed(boxes, segments).sum(axis=1) + SIGNS * _over(boxes, solid).sum(axis=1) + EDGE * out + far
    return cost


def _over(boxes: Floats, others: Floats) -> Bools:
    """Which of some boxes lie over which others (boxes x others)."""
    b, o = boxes[:, None, :], others[None, :, :]
    return (o[..., 0] < b[..., 2]) & (o[..., 2] > b[..., 0]) & (o[..., 1] < b[..., 3]) & (o[..., 3] > b[..., 1])


def _crossed(boxes: Floats, segments: Floats) -> Bools:
    """Which segments pass through which boxes, clipped to each by their parameters (Liang and Barsky); boxes x segments."""
    low, high = np.zeros((len(boxes), len(segments))), np.ones((len(boxes), len(segments)))
    outside = np.zeros_like(low, dtype=bool)
    for axis in (0, 1):
        least, most = boxes[:, None, axis], boxes[:, None, axis + 2]
        start, by = segments[None, :, axis], segments[None, :, axis + 2] - segments[None, :, axis]
        still = np.abs(by) < STILL
        outside |= still & ((start < least) | (start > most))
        safe = np.where(still, 1.0, by)
        a, b = (least - start) / safe, (most - start) / safe
        low = np.where(still, low, np.maximum(low, np.minimum(a, b)))
        high = np.where(still, high, np.minimum(high, np.maximum(a, b)))
    return ~outside & (low < high)
