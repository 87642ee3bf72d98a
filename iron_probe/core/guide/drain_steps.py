"""The step of a drain hunt: close up, wait, read the total, split it until the sum closes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from iron_probe.core.bench.drain.currents import Way
from iron_probe.core.bench.drain.suspects import DrainProbe
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.guide.route import Leg
from iron_probe.core.guide.step import Act, GuideStep, How, Why


@dataclass(frozen=True, slots=True, kw_only=True)
class DrainFacts:
    """Where a drain hunt stands: whether the machine is `latched`, `until` when it falls asleep (None once it had its time), the verdict on the newest
    total since (None while there is none), whether a level over the limit is being looked for and is more than anything asleep takes (`no_sleeper`), the `probes` that would tell more, those of them that part further what is named (`inner`), the parts
    that draw and whether the sum closes on them, whether totals were `recorded` long enough to let go, what it comes to so far in words, and whether `totals` and stretches of it (`split`) were ever read on this job."""

    latched: bool
    until: datetime | None
    total: Verdict | None
    level: bool
    no_sleeper: bool
    probes: Sequence[DrainProbe]
    inner: Sequence[DrainProbe]
    culprits: Sequence[str]
    closes: bool
    recorded: bool
    told: str = ""
    totals: bool = False
    split: bool = False


def drain_step(known: DrainFacts, repaired: bool) -> GuideStep:
    """The step now; after a repair the same way in, to one total that is normal."""
    leg = Leg.RETEST if repaired else Leg.TOTAL
    if known.total is Verdict.GOOD and not known.level:
        if repaired:
            return GuideStep(act=Act.CLOSE, leg=Leg.CLOSE, why=Why.PASSED)
        if known.recorded:
            return GuideStep(act=Act.CLOSE, leg=Leg.CLOSE, why=Why.NOT_REPRODUCED, told=known.told)
        return GuideStep(act=Act.RECORD, leg=leg, why=Why.NORMAL_NOW, told=known.told)
    if known.level:
        return _split(known)
    if not known.latched:
        return GuideStep(act=Act.LATCH, leg=leg, why=Why.AWAKE_HIDES)
    if known.until is not None:
        return GuideStep(act=Act.WAIT, leg=leg, why=Why.AWAKE_HIDES, until=known.until)
    return GuideStep(act=Act.TOTAL, leg=leg, why=Why.SAME_PROBES if repaired else Why.TOTAL_FIRST)


def _split(known: DrainFacts) -> GuideStep:
    """What splits a drain that is there, or what draws once the sum closes or nothing parts it further."""
    if known.culprits and not known.inner and (known.closes or not known.probes):
        return GuideStep(act=Act.REPAIR, leg=Leg.REPAIR, why=Why.SUM_CLOSES, parts=tuple(known.culprits), how=How.DRAWS, told=known.told)
    if known.probes:
        probe = known.inner[0] if known.inner and known.closes else known.probes[0]
        return GuideStep(
            act=Act.PROBE,
            leg=Leg.PART if probe.way is Way.PART else Leg.SPLIT,
            why=Why.NO_SLEEPER if known.no_sleeper else Why.SPLITS,
            probe=probe,
        )
    return GuideStep(act=Act.LOOK, leg=Leg.PART, why=Why.NOTHING_LEFT, told=known.told)
