"""Figures as marks on one scale: what a sound machine reads, what a suspect predicts, what was read."""

from collections.abc import Sequence

MARGIN = 0.08
"""Room at both ends of the scale."""
LEAST_SPAN = 0.1
"""The scale spans at least so much of the greatest figure."""


def marks(values: Sequence[float]) -> tuple[float, ...]:
    """Where each figure stands on a scale that holds them all, as shares of its length; with zero on it where they are further apart than near it, and
    never so fine that next to nothing looks like much."""
    low, high = min(values), max(values)
    greatest = max(abs(low), abs(high), 1e-9)
    if high - low > greatest / 2:
        low, high = min(0.0, low), max(0.0, high)
    span = max(high - low, LEAST_SPAN * greatest)
    low -= (span - (high - low)) / 2
    return tuple(MARGIN + (1 - 2 * MARGIN) * (v - low) / span for v in values)
