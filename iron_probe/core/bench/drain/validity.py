"""What a sweep is worth: every reading held against the total at its moment."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from iron_probe.core.bench.drain.amps_read import Interval
from iron_probe.core.bench.drain.currents import TOTAL, Taken
from iron_probe.core.limits import DRAIN_PRESENT_SHARE, SAME_LEVEL_A, SAME_LEVEL_SHARE, TOTAL_FRESH_S
from iron_probe.core.phrase import Phrase

INTO_BATTERY = Phrase(
    "it flows into the battery: a charger, a solar panel or another battery feeds it, or the clamp is on the wrong way round. "
    "Switch a lamp on: it must read plus. Then read the total again."
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Moment:
    """A total [A] and the time [s] it was read."""

    at_s: float
    total_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Checked:
    """A reading taken at `at_s` with whether it tells anything; `why` not, in words."""

    taken: Taken
    at_s: float
    valid: bool
    why: str = ""


def same_level(a: float, b: float) -> bool:
    """Whether two totals [A] are one level."""
    return abs(a - b) <= max(SAME_LEVEL_SHARE * max(a, b), SAME_LEVEL_A)


def fault_level(totals: Sequence[Moment], limit_a: float, settled_s: float | None = None) -> float | None:
    """The level [A] that is looked for, above the limit and read twice where one was.

    From the moment the machine should sleep, `settled_s` [s], the highest: a lower one is the drain half gone. Where nobody noted when
    it was locked, the newest: those before may be from falling asleep. None when no total was above the limit.
    """
    since = [m for m in totals if settled_s is not None and m.at_s >= settled_s]
    above = [m.total_a for m in since or totals if m.total_a > limit_a]
    ordered = sorted(above)
    twice = {a for near in pairwise(ordered) if same_level(*near) for a in near}
    confirmed = [a for a in above if a in twice]
    if since:
        return max(confirmed or above, default=None)
    return confirmed[-1] if confirmed else max(above, default=None)


def check_sweep(
    readings: Sequence[tuple[Taken, float]], totals: Sequence[Moment], limit_a: float, settled_s: float | None = None
) -> list[Checked]:
    """Each reading with its time [s]: it counts while the total before it, and the one after if there is one, were at the fault's level.

    The newest total before a reading must be fresh. When the total fell to normal between two totals, all that was read between tells
    nothing: nobody knows when it fell. A branch that itself carried the greater part of the excess proves the drain was there.
    """
    level = fault_level(totals, limit_a, settled_s)
    ordered = sorted(totals, key=lambda m: m.at_s)
    return [_checked(taken, at, ordered, level, limit_a) for taken, at in readings]


def _checked(taken: Taken, at: float, totals: Sequence[Moment], level: float | None, limit_a: float) -> Checked:
    def no(why: str) -> Checked:
        return Checked(taken=taken, at_s=at, valid=False, why=why)

    if taken.where == TOTAL:
        return no(INTO_BATTERY) if taken.amps.high < 0 and not taken.part_of else Checked(taken=taken, at_s=at, valid=True)
    if level is None:
        return no(
            Phrase(
                "the total was never above {limit_a:.0f} mA: with nothing flowing every zero is empty. Read the total first.",
                limit_a=1000 * limit_a,
            )
        )
    if taken.amps.low > DRAIN_PRESENT_SHARE * max(level - limit_a, 0.0) and taken.amps.low > limit_a:
        return Checked(taken=taken, at_s=at, valid=True)
    before = next((m for m in reversed(totals) if m.at_s <= at), None)
    after = next((m for m in totals if m.at_s > at), None)
    if before is None or at - before.at_s > TOTAL_FRESH_S:
        if after is None or after.at_s - at > TOTAL_FRESH_S or not same_level(after.total_a, level):
            return no(Phrase("no total was read within a quarter of an hour of it. Read the total, then this again."))
    elif not same_level(before.total_a, level):
        return no(_told(before.total_a, Phrase("before it"), level, limit_a))
    if after is not None and after.at_s - at <= TOTAL_FRESH_S and not same_level(after.total_a, level):
        return no(_told(after.total_a, Phrase("after it"), level, limit_a))
    return Checked(taken=taken, at_s=at, valid=True)


def _told(total_a: float, when: str, level: float, limit_a: float) -> str:
    if total_a <= limit_a:
        return Phrase(
            "the total {when} was {total_a:.0f} mA, normal: the drain may have been away. Read again while it is there.",
            when=when,
            total_a=1000 * total_a,
        )
    return Phrase(
        "the total {when} was {total_a:.0f} mA instead of {level:.0f}: another state. Read again.",
        when=when,
        total_a=1000 * total_a,
        level=1000 * level,
    )


def at_level(checked: Sequence[Checked], totals: Sequence[Moment], limit_a: float, settled_s: float | None = None) -> list[Taken]:
    """What counts: valid branch readings, and one total for the level they belong to (the mean of the totals at it)."""
    level = fault_level(totals, limit_a, settled_s)
    found = [c.taken for c in checked if c.valid and c.taken.where != TOTAL]
    if level is None:
        return found
    at = [c.taken for c in checked if c.taken.where == TOTAL and same_level(c.taken.amps.best, level)]
    if at:
        best = sum(t.amps.best for t in at) / len(at)
        wide = max(t.amps.width for t in at) / 2
        amps = Interval(low=max(best - wide, 0.0), best=best, high=best + wide)
        found.insert(0, Taken(number=at[-1].number, where=TOTAL, way=at[-1].way, amps=amps, part_of=all(t.part_of for t in at)))
    return found
