"""Before and after a repair: the same probes in the same state, side by side."""

from dataclasses import dataclass
from enum import StrEnum


class Outcome(StrEnum):
    """What a repair did to one reading."""

    WITHIN = "within limit"
    STILL_OVER = "improved but still over"
    UNCHANGED = "unchanged"
    WORSE = "worse"
    OPEN = "not retested"


CHANGE_V = 0.02
"""Readings of one joint in two cranks differ by this [V] without anything having changed (common practice)."""
CHANGE_SHARE = 0.15
"""The same as a share of the earlier reading (common practice)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Compared:
    """One stretch before and after [V], held against what it may lose."""

    red: str
    black: str
    state: str
    before_v: float
    after_v: float | None
    allowance_v: float
    outcome: Outcome


def compare(red: str, black: str, state: str, before_v: float, after_v: float | None, allowance_v: float) -> Compared:
    """Judge a retest; `after_v` None means it is still owed."""
    if after_v is None:
        outcome = Outcome.OPEN
    elif abs(after_v) <= allowance_v:
        outcome = Outcome.WITHIN
    else:
        change = abs(before_v) - abs(after_v)
        noise = max(CHANGE_V, CHANGE_SHARE * abs(before_v))
        outcome = Outcome.STILL_OVER if change > noise else Outcome.WORSE if change < -noise else Outcome.UNCHANGED
    return Compared(red=red, black=black, state=state, before_v=before_v, after_v=after_v, allowance_v=allowance_v, outcome=outcome)
