"""Current against time as it is watched going to sleep: places on a strip as shares 0..1, amps on a log scale, y down."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import log10

LEAST_A, MOST_A = 0.001, 30.0
"""Ends of the scale [A]."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Watch:
    """Points (x, y) of the total, the target's height, marks (x, word), grid lines (y, amps) and the span [s]."""

    points: tuple[tuple[float, float], ...]
    target: float
    marks: tuple[tuple[float, str], ...]
    grid: tuple[tuple[float, float], ...]
    span_s: float


def height(amps: float) -> float:
    """Place of a current on the log scale, 0 at the top."""
    return 1 - log10(min(max(amps, LEAST_A), MOST_A) / LEAST_A) / log10(MOST_A / LEAST_A)


def watch(totals: Sequence[tuple[float, float]], marks: Sequence[tuple[float, str]], target_a: float) -> Watch | None:
    """Lay out (time [s], amps) points and (time [s], word) marks; None with nothing to show. A point holds until the next one."""
    times = [t for t, _ in (*totals, *marks)]
    if not totals:
        return None
    start, span = min(times), max(max(times) - min(times), 60.0)
    stairs: list[tuple[float, float]] = []
    for t, amps in sorted(totals):
        x = (t - start) / span
        if stairs:
            stairs.append((x, stairs[-1][1]))
        stairs.append((x, height(amps)))
    return Watch(
        points=tuple(stairs),
        target=height(target_a),
        marks=tuple(((t - start) / span, word) for t, word in sorted(marks)),
        grid=tuple((height(a), a) for a in (0.001, 0.01, 0.1, 1.0, 10.0)),
        span_s=span,
    )
