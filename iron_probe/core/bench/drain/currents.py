"""Currents of the sleeping circuit from any mix of readings: best figures by constrained least squares, bounds by what must add up."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.drain.amps_read import Interval
from iron_probe.core.bench.drain.feed_tree import FeedTree
from iron_probe.core.limits import FUSE_HOLDS, SOUND_DRAW_A, SOUND_DRAW_SHARE
from iron_probe.core.phrase import Phrase

TOTAL = "total"
"""Name of the current out of the battery, where a reading is taken around all of one side's cables."""
SIGMAS = 2.0
"""A reading's interval lies this many standard errors either way."""


class Way(StrEnum):
    """How a current was come by."""

    CLAMP = "clamp"
    DROP = "fuse drop"
    PULL = "fuse pulled"
    PART = "plug parted"
    SERIES = "series meter"


@dataclass(frozen=True, slots=True, kw_only=True)
class Taken:
    """A current found: `number` in the job, `where` (a stretch, a consumer or TOTAL), how, and its interval [A]; `part_of` true for a
    clamp round only one of several ground cables: the current is at least that."""

    number: int
    where: str
    way: Way
    amps: Interval
    part_of: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Disagreement:
    """Readings that cannot all be right, by number, and in words."""

    numbers: tuple[int, ...]
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Currents:
    """Every consumer's and stretch's current [A] with its bounds, the total and whether one was read, and readings that disagree."""

    total: Interval
    consumers: tuple[Interval, ...]
    stretches: dict[str, Interval]
    disagreements: tuple[Disagreement, ...]
    total_read: bool = False

    def of(self, where: str, tree: FeedTree) -> Interval:
        """The current of a stretch, a consumer or the total."""
        if where == TOTAL:
            return self.total
        return self.stretches[where] if where in self.stretches else self.consumers[tree.consumer_at(where)]


def row_of(tree: FeedTree, where: str) -> Floats:
    """Which consumers (n,) a place carries, 0 or 1."""
    row = np.zeros(len(tree.consumers))
    if where == TOTAL:
        row[:] = 1.0
    elif where in tree.behind:
        row[list(tree.behind[where])] = 1.0
    else:
        row[tree.consumer_at(where)] = 1.0
    return row


def least_squares(tree: FeedTree, taken: Sequence[Taken]) -> Floats:
    """Consumers' currents (n,) [A], none below zero, that fit the readings best by their errors and lie near what is usual.

    What a consumer may stray from its usual draw grows with the excess there is to place and with how often its kind is the drain.
    """
    usual = np.array([c.usual_a for c in tree.consumers])
    weight = np.array([c.weight for c in tree.consumers])
    exact = [t for t in taken if not t.part_of]
    most = max([t.amps.best for t in exact if t.where == TOTAL] or [t.amps.best for t in exact] or [0.0])
    excess = max(most - usual.sum(), SOUND_DRAW_A)
    stray = np.hypot(np.hypot(SOUND_DRAW_A, SOUND_DRAW_SHARE * usual), excess * np.sqrt(weight / weight.sum()))
    rows, wanted = [np.diag(1 / stray)], [usual / stray]
    for t in exact:
        error = max(t.amps.width / (2 * SIGMAS), 1e-6)
        rows.append(row_of(tree, t.where)[None] / error)
        wanted.append(np.array([t.amps.best / error]))
    from scipy.optimize import nnls  # noqa: PLC0415  its import would slow every start, and only a sweep needs it

    found, _ = nnls(np.concatenate(rows), np.concatenate(wanted))
    return np.asarray(found)


def solve_currents(tree: FeedTree, taken: Sequence[Taken]) -> Currents:
    """Best figures and bounds. The bounds are exact for a tree: two passes, from the consumers up and from the battery down."""
    best = least_squares(tree, taken)
    parts = _parts(tree)
    names = dict.fromkeys([*parts, *(c.branch for c in tree.consumers)])
    low, high = dict.fromkeys(names, 0.0), dict.fromkeys(names, np.inf)
    for stretch, fuse in tree.fuses():  # what a fuse cannot carry for long is not behind it
        high[stretch.branch] = FUSE_HOLDS * fuse.rating_a
    for t in taken:
        low[t.where] = max(low[t.where], t.amps.low)
        high[t.where] = high[t.where] if t.part_of else min(high[t.where], t.amps.high)
    for name in reversed(parts):
        low[name] = max(low[name], sum(low[p] for p in parts[name]))
        high[name] = min(high[name], sum(high[p] for p in parts[name]))
    disagreements = _disagreements(tree, taken, low, high)
    for name in parts:
        _share_out(parts[name], low[name], max(high[name], low[name]), low, high)

    def interval(name: str) -> Interval:
        amps = float(row_of(tree, name) @ best)
        return Interval(low=low[name], best=min(max(amps, low[name]), high[name]), high=high[name])

    return Currents(
        total=interval(TOTAL), consumers=tuple(interval(c.branch) for c in tree.consumers),
        stretches={name: interval(name) for name in tree.behind}, disagreements=disagreements,
        total_read=any(t.where == TOTAL and not t.part_of for t in taken),
    )  # fmt: skip


def _share_out(parts: Sequence[str], least: float, most: float, low: dict[str, float], high: dict[str, float]) -> None:
    """Tighten the bounds of what adds up to something between `least` and `most`: each has what the others leave, at their most and least."""
    lows, highs = {p: low[p] for p in parts}, {p: high[p] for p in parts}
    endless = [p for p in parts if np.isinf(highs[p])]
    bounded = sum(a for a in highs.values() if not np.isinf(a))
    for p in parts:
        others_most = np.inf if set(endless) - {p} else bounded - (0.0 if p in endless else highs[p])
        others_least = sum(lows.values()) - lows[p]
        low[p] = max(lows[p], least - others_most)
        high[p] = max(lows[p], min(highs[p], most - others_least))


def _parts(tree: FeedTree) -> dict[str, list[str]]:
    """What the total and each stretch are the sum of: stretches and consumers at its lower end, by name; feeders before what they feed."""
    name_of = {tree.root: TOTAL, **{s.lower: s.branch for s in tree.stretches}}
    parts: dict[str, list[str]] = {name: [] for name in name_of.values()}
    for s in tree.stretches:
        parts[name_of[s.upper]].append(s.branch)
    for consumer in tree.consumers:
        parts[name_of[consumer.point]].append(consumer.branch)
    return parts


def _disagreements(tree: FeedTree, taken: Sequence[Taken], low: dict[str, float], high: dict[str, float]) -> tuple[Disagreement, ...]:
    """Readings of a place against those of what feeds it: no branch carries more than its feed."""
    found = []
    for t in taken:
        feeds = [TOTAL, *(s.branch for s in tree.stretches if t.where in tree.behind and tree.behind[t.where] < tree.behind[s.branch])]
        for other in taken:
            if other.where in feeds and other.where != t.where and not other.part_of and t.amps.low > other.amps.high * 1.0001 + 1e-9:
                place = Phrase("the total") if other.where == TOTAL else tree.element(other.where).title
                found.append(
                    Disagreement(
                        numbers=(t.number, other.number),
                        text=Phrase(
                            "reading {number} shows at least {low:.0f} mA, more than {place} in reading {other} ({high:.0f} mA at most): zero of the clamp, another moment, or a wrong rating. Take both again.",
                            number=t.number,
                            low=1000 * t.amps.low,
                            place=place,
                            other=other.number,
                            high=1000 * other.amps.high,
                        ),
                    )
                )
    for name in (n for n in low if low[n] > high[n] * 1.001 + 1e-6):
        numbers = tuple(
            t.number
            for t in taken
            if t.where == name or (name in tree.behind and t.where in tree.behind and tree.behind[t.where] <= tree.behind[name])
        )
        if len(numbers) > 1 and not any(set(d.numbers) <= set(numbers) for d in found):
            place = Phrase("the total") if name == TOTAL else tree.element(name).title
            found.append(
                Disagreement(
                    numbers=numbers,
                    text=Phrase("the readings on {place} and below it do not add up: take them again in one go.", place=place),
                )
            )
    return tuple(found)
