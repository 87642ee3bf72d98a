"""Amps from the millivolts across a fuse, with the interval its kind leaves open, and what a zero on the meter can hide."""

from dataclasses import dataclass

from iron_probe.core.circuit.fuses import KINDS, FuseKind, fuse_ohm
from iron_probe.core.errors import ReadingError

HOLDS_SHARE = 1.1
"""A fuse holds this share of its rating for 100 h (ISO 8820-3, from memory): more than that is not behind it for long."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Interval:
    """A current [A]: `low` to `high`, and the `best` figure between."""

    low: float
    best: float
    high: float

    @property
    def width(self) -> float:
        return self.high - self.low


def amps_of_drop(drop_v: float, resolution_v: float, rating_a: float, kind: FuseKind = "regular", temp_degc: float = 20.0) -> Interval:
    """Current [A] behind a drop [V] across a fuse, the meter's last digit being `resolution_v` [V].

    One digit either way and the spread of that kind of fuse; ReadingError when the fuse could not have held it: then the rating or
    the figure is wrong.
    """
    ohm, spread = fuse_ohm(rating_a, kind, temp_degc), KINDS[kind][1]
    drop = abs(drop_v)
    low = max(drop - resolution_v, 0.0) / (ohm * (1 + spread))
    if low > HOLDS_SHARE * rating_a:
        raise ReadingError(
            f"{drop * 1000:.3g} mV across a {rating_a:g} A fuse is at least {low:.0f} A, which it cannot carry. Check the rating on the fuse, the "
            "range of the meter, and that both probes touch its own two test points."
        )
    return Interval(low=low, best=drop / ohm, high=(drop + resolution_v) / (ohm * (1 - spread)))


def hidden_a(resolution_v: float, rating_a: float, kind: FuseKind = "regular", temp_degc: float = 20.0) -> float:
    """Current [A] that a reading of zero can hide at a meter resolution [V]: 13 mA behind a 10 A blade and 0.1 mV."""
    return resolution_v / fuse_ohm(rating_a, kind, temp_degc)
