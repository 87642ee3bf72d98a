"""Volts and amps against time while the engine runs: places on a strip as shares 0..1 of its width and height, y down."""

from collections.abc import Sequence
from dataclasses import dataclass

LOW_V, HIGH_V = 11.5, 16.0
"""Ends of the volts scale of a 12 V system [V]."""

Points = Sequence[tuple[float, float]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Strip:
    """Points (x, y) of both lines, the charging band's top and bottom, the span [s] and the most amps of the scale."""

    volts: tuple[tuple[float, float], ...]
    amps: tuple[tuple[float, float], ...]
    band: tuple[float, float]
    span_s: float
    most_a: float


def trend(volts: Points, amps: Points, band_v: tuple[float, float], most_a: float, system_v: float) -> Strip | None:
    """Lay out (time [s], volts) and (time [s], amps) points in any order; None with fewer than two moments, which make no trend."""
    times = [t for t, _ in (*volts, *amps)]
    if len(set(times)) < 2:
        return None
    start, span = min(times), max(times) - min(times)
    blocks = system_v / 12

    def height(v: float) -> float:
        return 1 - min(max((v / blocks - LOW_V) / (HIGH_V - LOW_V), 0.0), 1.0)

    top = max([most_a, *(a for _, a in amps)])
    return Strip(
        volts=tuple(((t - start) / span, height(v)) for t, v in sorted(volts)),
        amps=tuple(((t - start) / span, 1 - a / top) for t, a in sorted(amps)),
        band=(height(band_v[1]), height(band_v[0])),
        span_s=span,
        most_a=top,
    )
