"""The one step a job takes now, as a value: every screen says it, and none says another."""

from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from iron_probe.core.bench.drain.suspects import DrainProbe
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
    LATCH = "latch"
    WAIT = "wait"
    TOTAL = "total"
    PROBE = "probe"
    RECORD = "record"
    FEEDS = "feeds"
    LOOK = "look"


class How(StrEnum):
    """As what the fault was found: in a part by its own test, beside it, in all of a way, as a feed from where none should come, by the drop work as a
    stretch over its share, a battery that wants charging, what draws while it should sleep, or on trial, as the last one left that no test proves."""

    PART = "part"
    BESIDE = "beside"
    WAY = "way"
    FED = "fed"
    SHARE = "share"
    CHARGE = "charge"
    DRAWS = "draws"
    TRIAL = "trial"


class Why(StrEnum):
    """Why a step comes now; a test of the engine brings a reason of its own."""

    SOURCE_FIRST = "source_first"
    UNDER_LOAD = "under_load"
    WHOLE_WAY = "whole_way"
    TELLS_MOST = "tells_most"
    FOUND = "found"
    FOUND_AGAIN = "found_again"
    SAME_PROBES = "same_probes"
    COMPLAINT_AGAIN = "complaint_again"
    PASSED = "passed"
    NO_FAULT = "no_fault"
    NOTHING_LEFT = "nothing_left"
    AWAITED = "awaited"
    LAST_ONE = "last_one"
    ODD_ONCE = "odd_once"
    BASELINE = "baseline"
    WHY_FLAT = "why_flat"
    CHARGES_FIRST = "charges_first"
    AWAKE_HIDES = "awake_hides"
    TOTAL_FIRST = "total_first"
    SPLITS = "splits"
    NO_SLEEPER = "no_sleeper"
    SUM_CLOSES = "sum_closes"
    NORMAL_NOW = "normal_now"
    NOT_REPRODUCED = "not_reproduced"
    NOT_SEEN = "not_seen"
    ENDED = "ended"


@dataclass(frozen=True, slots=True, kw_only=True)
class GuideStep:
    """A step: the `reading` to take where there is one, the `test` of the engine that asks for it, the `probe` of a drain hunt, `until` when to wait, the `parts` to repair and `how` they were found, how many
    readings are `owed` after a repair, what another bench `told`, and the number of the reading that is taken `again` (0 for what intake heard)."""

    act: Act
    leg: Leg
    why: Why
    reading: Reading | None = None
    test: NextTest | None = None
    probe: DrainProbe | None = None
    until: datetime | None = None
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
