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


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame:
    """A strip that is yet to be filled: the ends of its volts scale [V], the charging band's top and bottom as shares, the most amps of its scale."""

    low_v: float
    high_v: float
    band: tuple[float, float]
    most_a: float


def frame(band_v: tuple[float, float], most_a: float, system_v: float) -> Frame:
    """The frame that `trend` lays points out in."""
    blocks = system_v / 12
    return Frame(
        low_v=LOW_V * blocks, high_v=HIGH_V * blocks, band=(_height(band_v[1] / blocks), _height(band_v[0] / blocks)), most_a=most_a
    )


def _height(volts: float) -> float:
    """Volts of a 12 V system as a share of the strip, from its top."""
    return 1 - min(max((volts - LOW_V) / (HIGH_V - LOW_V), 0.0), 1.0)


def trend(volts: Points, amps: Points, band_v: tuple[float, float], most_a: float, system_v: float) -> Strip | None:
    """Lay out (time [s], volts) and (time [s], amps) points in any order; None with fewer than two moments, which make no trend."""
    times = [t for t, _ in (*volts, *amps)]
    if len(set(times)) < 2:
        return None
    start, span = min(times), max(times) - min(times)
    blocks, top = system_v / 12, max([most_a, *(a for _, a in amps)])
    return Strip(
        volts=tuple(((t - start) / span, _height(v / blocks)) for t, v in sorted(volts)),
        amps=tuple(((t - start) / span, 1 - a / top) for t, a in sorted(amps)),
        band=frame(band_v, top, system_v).band,
        span_s=span,
        most_a=top,
    )
