"""One stream of figures as a technician sees it: the figure, its least, greatest and mean since it was reset, and the figure it holds steady."""

from collections import deque
from dataclasses import dataclass, field

HOLD_S = 1.0
"""How long figures are alike before one is held [s] (common practice: a meter's own hold waits about a second)."""
HOLD_COUNT = 5
"""Figures of that time at the least."""
HOLD_DIGITS, HOLD_SHARE = 3, 0.005
"""They are alike within so many last digits, or this share of the figure, whichever is more (common practice)."""
MOST_KEPT = 64
"""Figures looked back on: a window of one second at more than twenty a second needs no more."""


@dataclass(slots=True)
class Following:
    """A stream followed in constant memory; times in s, figures in the unit they are sent in, None where it is over range.

    `factor` is what a clamp gives a unit for (1 for a figure as it is), `zero` is taken off after it.
    """

    factor: float = 1.0
    zero: float = 0.0
    least: float | None = None
    greatest: float | None = None
    count: int = 0
    _sum: float = 0.0
    _recent: deque[tuple[float, float | None]] = field(default_factory=lambda: deque(maxlen=MOST_KEPT))

    def take(self, at_s: float, sent: float | None) -> float | None:
        """One more figure as it was sent; gives it as it is shown."""
        shown = None if sent is None else sent * self.factor - self.zero
        self._recent.append((at_s, shown))
        if shown is not None:
            self.least = shown if self.least is None else min(self.least, shown)
            self.greatest = shown if self.greatest is None else max(self.greatest, shown)
            self.count, self._sum = self.count + 1, self._sum + shown
        return shown

    def reset(self) -> None:
        """Least, greatest, mean and what is held begin anew."""
        self._recent.clear()
        self.least = self.greatest = None
        self.count, self._sum = 0, 0.0

    @property
    def mean(self) -> float | None:
        """Of all figures since the reset."""
        return self._sum / self.count if self.count else None

    def held(self, step: float) -> float | None:
        """The figure it stands still at, in steps of the last digit `step`; None while it moves, is over range, or has not stood for long enough."""
        if not self._recent:
            return None
        last_s = self._recent[-1][0]
        window = [value for at, value in self._recent if last_s - at <= HOLD_S]
        if len(window) < HOLD_COUNT or self._recent[0][0] > last_s - HOLD_S:
            return None
        values = [v for v in window if v is not None]
        if len(values) < len(window):
            return None
        middle = sorted(values)[len(values) // 2]
        if max(values) - min(values) > max(HOLD_DIGITS * step, HOLD_SHARE * abs(middle)):
            return None
        return middle
