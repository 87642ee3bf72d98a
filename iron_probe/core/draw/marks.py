"""Figures as marks on one scale: what a sound machine reads, what a suspect predicts, what was read."""

from collections.abc import Sequence

MARGIN = 0.08
"""Room at both ends of the scale."""


def marks(values: Sequence[float]) -> tuple[float, ...]:
    """Where each figure stands on a scale that holds them all and zero, as shares of its length."""
    low, high = min(0.0, *values), max(0.0, *values)
    span = max(high - low, 1e-9)
    return tuple(MARGIN + (1 - 2 * MARGIN) * (v - low) / span for v in values)
