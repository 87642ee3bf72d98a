"""What a reading leaves open of a current: a clamp's zero and share, the digits of a series meter, millivolts across a fuse by its kind."""

from dataclasses import dataclass

from iron_probe.core.circuit.fuses import KINDS, FuseKind, amps_behind, fuse_ohm
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import CLAMP_ZERO_A, FUSE_HOLDS, LOW_CLAMP_SHARE, SERIES_METER_SHARE


@dataclass(frozen=True, slots=True, kw_only=True)
class Interval:
    """A current [A]: `low` to `high`, and the `best` figure between."""

    low: float
    best: float
    high: float

    @property
    def width(self) -> float:
        return self.high - self.low

    @property
    def turned(self) -> "Interval":
        """The same current the other way round."""
        return Interval(low=-self.high, best=-self.best, high=-self.low)


def amps_of_drop(drop_v: float, resolution_v: float, rating_a: float, kind: FuseKind = "regular", temp_degc: float = 20.0) -> Interval:
    """Current [A] behind a drop [V] across a fuse, the meter's last digit being `resolution_v` [V].

    One digit either way and the spread of that kind of fuse, warm as the current makes it; ReadingError when the fuse could not have
    held it: then the rating or the figure is wrong.
    """
    ohm, spread = fuse_ohm(rating_a, kind, temp_degc), KINDS[kind][1]
    drop = abs(drop_v)
    low = amps_behind(max(drop - resolution_v, 0.0), ohm * (1 + spread), rating_a)
    if low > FUSE_HOLDS * rating_a:
        raise ReadingError(
            f"{drop * 1000:.3g} mV across a {rating_a:g} A fuse is at least {low:.0f} A, which it cannot carry. Check the rating on the fuse, the "
            "range of the meter, and that both probes touch its own two test points."
        )
    return Interval(low=low, best=amps_behind(drop, ohm, rating_a), high=amps_behind(drop + resolution_v, ohm * (1 - spread), rating_a))


def hidden_a(resolution_v: float, rating_a: float, kind: FuseKind = "regular", temp_degc: float = 20.0) -> float:
    """Current [A] that a reading of zero can hide at a meter resolution [V]: 13 mA behind a 10 A blade and 0.1 mV."""
    return resolution_v / fuse_ohm(rating_a, kind, temp_degc)


def clamp_amps(shown_a: float, resolution_a: float) -> Interval:
    """Current [A] that a clamp shows, its zero and share left open."""
    amps = abs(shown_a)
    room = CLAMP_ZERO_A + LOW_CLAMP_SHARE * amps + resolution_a / 2
    return Interval(low=max(amps - room, 0.0), best=amps, high=amps + room)


def series_amps(shown_a: float, resolution_a: float) -> Interval:
    """Current [A] that a meter in series shows."""
    amps = abs(shown_a)
    room = SERIES_METER_SHARE * amps + resolution_a
    return Interval(low=max(amps - room, 0.0), best=amps, high=amps + room)


def fall_amps(before_a: float, after_a: float, resolution_a: float) -> Interval:
    """Current [A] that went away when a fuse was pulled or a plug parted: the clamp's zero drops out, its digits and share stay.

    ReadingError when the total rose: then something woke, and the fall tells nothing.
    """
    fall = before_a - after_a
    room = 2 * resolution_a + LOW_CLAMP_SHARE * abs(fall)
    if fall < -(room + 0.05 * before_a):
        raise ReadingError(
            f"The total rose from {1000 * before_a:.0f} to {1000 * after_a:.0f} mA: pulling it woke something. Wait until it is back, then take it again."
        )
    return Interval(low=max(fall - room, 0.0), best=max(fall, 0.0), high=max(fall, 0.0) + room)
