"""The legs of a job in the trade's order, by what is complained of, and where it stands on each."""

from collections.abc import Collection
from dataclasses import dataclass
from enum import StrEnum


class Concern(StrEnum):
    """What a job is about."""

    STARTING = "starting"
    CHARGING = "charging"
    DRAIN = "drain"
    FUSE = "fuse"


class Leg(StrEnum):
    """A leg of a route."""

    BATTERY = "battery"
    POSTS = "posts"
    COMMAND = "command"
    SUPPLY = "supply"
    GROUND = "ground"
    OUTPUT = "output"
    WAYS = "ways"
    WIRES = "wires"
    TOTAL = "total"
    SPLIT = "split"
    FEEDS = "feeds"
    HALVES = "halves"
    PART = "part"
    REPAIR = "repair"
    RETEST = "retest"
    CLOSE = "close"


ROUTES: dict[Concern, tuple[Leg, ...]] = {
    Concern.STARTING: (
        Leg.BATTERY, Leg.POSTS, Leg.COMMAND, Leg.SUPPLY, Leg.GROUND, Leg.PART, Leg.REPAIR, Leg.RETEST, Leg.CLOSE,
    ),
    Concern.CHARGING: (Leg.BATTERY, Leg.OUTPUT, Leg.WAYS, Leg.WIRES, Leg.PART, Leg.REPAIR, Leg.RETEST, Leg.CLOSE),
    Concern.DRAIN: (Leg.BATTERY, Leg.OUTPUT, Leg.TOTAL, Leg.SPLIT, Leg.PART, Leg.REPAIR, Leg.RETEST, Leg.CLOSE),
    Concern.FUSE: (Leg.FEEDS, Leg.HALVES, Leg.PART, Leg.REPAIR, Leg.RETEST, Leg.CLOSE),
}  # fmt: skip
"""The trade's order for each concern (common practice): the battery before anything, ways whole before halves, and the part's own test last."""


class Standing(StrEnum):
    """How a job stands to a leg of its route."""

    DONE = "done"
    HERE = "here"
    AHEAD = "ahead"
    NOT_NEEDED = "not_needed"


@dataclass(frozen=True, slots=True)
class Stop:
    """A leg of a job's route, and how it stands to it."""

    leg: Leg
    standing: Standing


def route(concern: Concern, here: Leg, done: Collection[Leg], needless: Collection[Leg] = ()) -> tuple[Stop, ...]:
    """The route of a job that is `here`. What lies before that and was not done is not needed any more."""
    legs = ROUTES[concern]
    at = legs.index(here)

    def standing(number: int, leg: Leg) -> Standing:
        if number == at:
            return Standing.HERE
        if leg in done:
            return Standing.DONE
        return Standing.NOT_NEEDED if number < at or leg in needless else Standing.AHEAD

    return tuple(Stop(leg, standing(n, leg)) for n, leg in enumerate(legs))
