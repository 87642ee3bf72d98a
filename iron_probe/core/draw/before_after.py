"""Two bars and a mark on one scale: a figure before a repair, after it, and the most it may be."""

from dataclasses import dataclass

ROOM = 1.12
"""The scale ends so far beyond the greatest of them."""


@dataclass(frozen=True, slots=True)
class BeforeAfter:
    """Lengths as shares of the scale, 0 to 1."""

    before: float
    after: float
    most: float


def before_after(before: float, after: float, most: float) -> BeforeAfter:
    """The lengths of a figure's bars."""
    top = ROOM * max(abs(before), abs(after), abs(most), 1e-9)
    return BeforeAfter(abs(before) / top, abs(after) / top, abs(most) / top)
