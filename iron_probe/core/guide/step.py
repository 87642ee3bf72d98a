"""The one step a job takes now, as a value: every screen says it, and none says another."""

from dataclasses import dataclass
from enum import StrEnum

from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.diagnose.told_test import NextTest
from iron_probe.core.guide.route import Concern, Leg, Stop


class Act(StrEnum):
    """What a step is."""

    MEASURE = "measure"
    REPAIR = "repair"
    RETEST = "retest"
    TRY = "try"
    CLOSE = "close"
    CLOSED = "closed"
    WATCH = "watch"
    FEEDS = "feeds"
    LOOK = "look"


class How(StrEnum):
    """As what the fault was found: in a part by its own test, beside it, in all of a way, as a feed from where none should come, or by the drop work as a
    stretch over its share."""

    PART = "part"
    BESIDE = "beside"
    WAY = "way"
    FED = "fed"
    SHARE = "share"


class Why(StrEnum):
    """Why a step comes now; a test of the engine brings a reason of its own."""

    SOURCE_FIRST = "source_first"
    UNDER_LOAD = "under_load"
    WHOLE_WAY = "whole_way"
    TELLS_MOST = "tells_most"
    FOUND = "found"
    SAME_PROBES = "same_probes"
    COMPLAINT_AGAIN = "complaint_again"
    PASSED = "passed"
    NO_FAULT = "no_fault"
    NOTHING_LEFT = "nothing_left"
    OTHER_WORK = "other_work"
    ENDED = "ended"


@dataclass(frozen=True, slots=True, kw_only=True)
class GuideStep:
    """A step: the `reading` to take where there is one, the `test` of the engine that asks for it, the `parts` to repair and `how` they were found, how many
    readings are `owed` after a repair, what another bench `told`, and the number of the reading that is taken `again` (0 for what intake heard)."""

    act: Act
    leg: Leg
    why: Why
    reading: Reading | None = None
    test: NextTest | None = None
    parts: tuple[str, ...] = ()
    how: How | None = None
    owed: int = 0
    told: str = ""
    again: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Guide:
    """What a job is about, its route, and the step to take on it."""

    concern: Concern
    route: tuple[Stop, ...]
    step: GuideStep
