"""Before and after a repair: the same probes in the same state, side by side."""

from dataclasses import dataclass
from enum import StrEnum

from iron_probe.core.limits import RETEST_CHANGE_SHARE, RETEST_CHANGE_V


class Retest(StrEnum):
    """What a repair did to one reading."""

    WITHIN = "within limit"
    STILL_OVER = "improved but still off"
    UNCHANGED = "unchanged"
    WORSE = "worse"
    OPEN = "not retested"


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """One place before and after [V], held against the most and (None: as much the other way) the least it may read."""

    red: str
    black: str
    state: str
    before_v: float
    after_v: float | None
    most_v: float
    least_v: float | None
    outcome: Retest


def compare(
    red: str, black: str, state: str, before_v: float, after_v: float | None, most_v: float, least_v: float | None = None
) -> Compared:
    """Judge a retest; `after_v` None means it is still owed."""
    floor = -most_v if least_v is None else least_v

    def off(volts: float) -> float:
        return max(volts - most_v, floor - volts, 0.0)

    if after_v is None:
        outcome = Retest.OPEN
    elif not off(after_v):
        outcome = Retest.WITHIN
    else:
        change = off(before_v) - off(after_v)
        noise = max(RETEST_CHANGE_V, RETEST_CHANGE_SHARE * off(before_v))
        outcome = Retest.STILL_OVER if change > noise else Retest.WORSE if change < -noise else Retest.UNCHANGED
    return Compared(red=red, black=black, state=state, before_v=before_v, after_v=after_v, most_v=most_v, least_v=least_v, outcome=outcome)
