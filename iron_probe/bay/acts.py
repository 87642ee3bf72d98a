"""What hands can do to a practice machine beside reading it, what it takes, and what may come of it."""

from dataclasses import dataclass
from enum import StrEnum


class Act(StrEnum):
    """What hands do: a part touched, warmed or wetted, time let pass, a plug or joint parted and joined, a wire put across a part, an ammeter put in its place."""

    TOUCH = "touch"
    HEAT = "heat"
    WET = "wet"
    TIME = "time"
    PART = "part"
    BRIDGE = "bridge"
    SERIES = "series"


ACT_MINUTES = {Act.TOUCH: 1.0, Act.HEAT: 6.0, Act.WET: 3.0, Act.TIME: 15.0, Act.PART: 2.0, Act.BRIDGE: 2.0, Act.SERIES: 3.0}
"""What each takes beside getting at the part [min] (common practice)."""


class Caution(StrEnum):
    """A caution that was broken."""

    SMOKE = "a bridge smoked"
    METER_FUSE = "the meter's fuse blew"
    BY_THE_BELT = "a hand by what turns"


@dataclass(frozen=True, slots=True)
class Handled:
    """An act on an `element` (none for time) in a state, and what came of it: whether a fault was `eased` until a quarter of an hour has passed, whether
    something `broke` by it, amps through a bridge or an ammeter [A], and the caution that was broken, if one was."""

    act: Act
    element: str
    state: str
    eased: bool = False
    broke: bool = False
    amps: float | None = None
    caution: Caution | None = None
