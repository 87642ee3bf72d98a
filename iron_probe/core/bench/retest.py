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

    @property
    def was_off(self) -> bool:
        """Whether what was read before the repair was not as it should be."""
        return _off(self.before_v, self.most_v, self.least_v) > 0


def _off(volts: float, most_v: float, least_v: float | None) -> float:
    """By how much a reading is off its band [V]; `least_v` None: as much the other way."""
    return max(volts - most_v, (-most_v if least_v is None else least_v) - volts, 0.0)


def compare(
    red: str, black: str, state: str, before_v: float, after_v: float | None, most_v: float, least_v: float | None = None
) -> Compared:
    """Judge a retest; `after_v` None means it is still owed."""
    if after_v is None:
        outcome = Retest.OPEN
    elif not _off(after_v, most_v, least_v):
        outcome = Retest.WITHIN
    else:
        before = _off(before_v, most_v, least_v)
        change = before - _off(after_v, most_v, least_v)
        noise = max(RETEST_CHANGE_V, RETEST_CHANGE_SHARE * before)
        outcome = Retest.STILL_OVER if change > noise else Retest.WORSE if change < -noise else Retest.UNCHANGED
    return Compared(red=red, black=black, state=state, before_v=before_v, after_v=after_v, most_v=most_v, least_v=least_v, outcome=outcome)
