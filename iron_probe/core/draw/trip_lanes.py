"""A blown-fuse capture in lanes: supply volts on top, each branch below, all on one time; shares 0..1, y down within a lane."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from iron_probe.core.arrays import Floats

LEAST_SHARE = 0.05
"""A lane's scale reaches at least to this share of the greatest of its unit: noise of a quiet branch stays noise."""
COLUMNS = 480
"""Columns a lane is drawn with; each shows the least and the greatest of its samples."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Lane:
    """A channel: its title, unit, ends of its scale, and points (x, y) that pass through the least and greatest of every column."""

    title: str
    unit: str
    low: float
    high: float
    points: tuple[tuple[float, float], ...]


def lanes(channels: Sequence[tuple[str, str, ArrayLike]]) -> tuple[Lane, ...]:
    """Lay out (title, unit, samples) channels of one length."""
    read = [(title, unit, np.asarray(data, dtype=np.float64)) for title, unit, data in channels]
    most = {unit: max(float(d.max()) for _, u, d in read if u == unit) for _, unit, _ in read}
    return tuple(_lane(title, unit, data, LEAST_SHARE * most[unit]) for title, unit, data in read)


def _lane(title: str, unit: str, data: Floats, least: float) -> Lane:
    low, high = min(float(data.min()), 0.0), max(float(data.max()), least, 1e-9)
    span = (high - low) or 1.0
    edges = np.linspace(0, len(data), min(COLUMNS, len(data)) + 1).astype(int)
    points: list[tuple[float, float]] = []
    for k in range(len(edges) - 1):
        piece = data[edges[k] : edges[k + 1]]
        x = (k + 0.5) / (len(edges) - 1)
        for value in (float(piece.min()), float(piece.max())) if len(piece) > 1 else (float(piece[0]),):
            points.append((round(x, 4), round(1 - (value - low) / span, 4)))
    return Lane(title=title, unit=unit, low=low, high=high, points=tuple(points))
