"""Least and greatest of ever longer stretches of a record, so that a view of any width is drawn from few numbers."""

from dataclasses import dataclass

import numpy as np

from iron_probe.core.arrays import Singles

FACTOR = 16
"""Each level has one pair for so many of the level below."""
LEAST = 64
"""Levels end when so few pairs are left."""


@dataclass(frozen=True, slots=True)
class PyramidLevel:
    """Pairs over stretches of `span` samples: `low` and `high` (pairs,)."""

    span: int
    low: Singles
    high: Singles


def build_pyramid(data: Singles) -> list[PyramidLevel]:
    """All levels above the samples themselves."""
    levels: list[PyramidLevel] = []
    low = high = data
    span = 1
    while len(low) > LEAST:
        low, high, span = _shrink(low, np.minimum), _shrink(high, np.maximum), span * FACTOR
        levels.append(PyramidLevel(span, low, high))
    return levels


def _shrink(values: Singles, pick: np.ufunc) -> Singles:
    whole = len(values) // FACTOR * FACTOR
    found = pick.reduce(values[:whole].reshape(-1, FACTOR), axis=1)
    return np.append(found, pick.reduce(values[whole:])) if whole < len(values) else found


def level_for(samples: int, width: int) -> int:
    """The span of the coarsest level that still gives a view of `width` columns at least one pair a column (1: the samples)."""
    span = 1
    while samples / (span * FACTOR) >= width:
        span *= FACTOR
    return span


def columns_of(low: Singles, high: Singles, width: int) -> tuple[Singles, Singles]:
    """Least and greatest in each of at most `width` columns of a view."""
    if len(low) <= width:
        return low, high
    edges = np.linspace(0, len(low), width, endpoint=False).astype(np.int64)
    return np.minimum.reduceat(low, edges), np.maximum.reduceat(high, edges)
