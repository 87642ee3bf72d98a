"""Who draws: consumers and branches that carry the excess, what is left to place, and where the next minute of probing tells most."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import log2

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.drain.amps_read import hidden_a
from iron_probe.core.bench.drain.currents import TOTAL, Currents, Taken, Way, row_of
from iron_probe.core.bench.drain.feed_tree import Draws, FeedTree
from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.limits import (
    CLAMP_MINUTES,
    DRAIN_HIDDEN_SHARE,
    DRAIN_NAMED_SHARE,
    FUSE_HOLDS,
    LEAST_EXCESS_A,
    METER_STEP_V,
    NIB_MINUTES,
    PART_MINUTES,
    PULL_MINUTES,
    SUM_CLOSES_SHARE,
)
from iron_probe.core.phrase import Phrase

LEAST_SPLIT_BITS = 0.12
"""A main cable or a box that parts less than this is passed over: nearly all hangs on one side of it."""
LEAST_BITS = 0.05
"""A probe that tells less is not offered."""
SAME_BOX = 0.3
"""Fuses lie side by side: a share of the minutes to reach one by itself."""
DISTURBS = 0.3
"""A probe that may put the drain to sleep keeps this share of its worth."""


class Method(StrEnum):
    """Whose way to sweep."""

    DROP = "drop"
    PULL = "pull"


METHOD_REASON = {
    Method.DROP: Phrase(
        "millivolts across each fuse: nothing is opened, nothing wakes or goes to sleep (default: an intermittent drain survives it)"
    ),
    Method.PULL: Phrase(
        "fuses pulled while the total is watched: needs no fuse figures and shows whole branches, but wakes modules when refitted and can end an intermittent drain"
    ),
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Named:
    """What draws: a consumer or, where no probe parts it further, a branch; the least and the likely excess [A], and whether it is behind a fuse."""

    where: str
    title: str
    why: Draws
    least_a: float
    best_a: float
    boxed: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class DrainProbe:
    """A probe to make next: a clamp, fuse drop, pulled fuse or parted plug; bits it tells and minutes it takes; `good_a` what it would carry asleep."""

    where: str
    way: Way
    title: str
    bits: float
    minutes: float
    good_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """Named ones, the excess [A] over what sleeps, whether the sum closes (on consumers and on branches no fuse parts further), the share of the excess by consumer (n,), and branches cleared
    by the rating of their fuse."""

    named: tuple[Named, ...]
    excess_a: float
    closes: bool
    share: tuple[float, ...]
    too_small: tuple[str, ...]


def find_drains(tree: FeedTree, currents: Currents) -> Finding:
    """Hold the bounds against what each draws asleep."""
    usual = np.array([c.usual_a for c in tree.consumers])
    total_usual = float(usual.sum())
    excess = max(currents.total.best - total_usual, 0.0)
    over = np.maximum(np.array([i.best for i in currents.consumers]) - usual, 0.0)
    share = over / over.sum() if over.sum() > 0 else over
    too_small = tuple(s.branch for s, fuse in tree.fuses() if currents.total.low - total_usual > FUSE_HOLDS * fuse.rating_a)
    named: list[Named] = []
    threshold = max(DRAIN_NAMED_SHARE * excess, LEAST_EXCESS_A)
    if excess > LEAST_EXCESS_A:
        for k, consumer in enumerate(tree.consumers):
            least = currents.consumers[k].low - 1.5 * consumer.usual_a
            if least > threshold:
                named.append(_named(tree, consumer.branch, least, float(over[k])))
        named += _branches(tree, currents, usual, threshold, {n.where for n in named})
        named = _without_the_needless(named, currents.total.best - total_usual)
    placed = sum(n.best_a for n in named) + total_usual
    parted = not any(
        tree.behind[s.branch] < tree.behind.get(n.where, frozenset()) for n in named for s, _ in tree.fuses() if tree.behind[s.branch]
    )
    closes = bool(named) and currents.total_read and parted and abs(placed - currents.total.best) <= _room(currents.total.best)
    return Finding(named=tuple(named), excess_a=excess, closes=closes, share=tuple(map(float, share)), too_small=too_small)


def _room(total_a: float) -> float:
    """By how much [A] what is placed may miss the total."""
    return max(SUM_CLOSES_SHARE * total_a, LEAST_EXCESS_A)


def _without_the_needless(named: list[Named], excess_a: float) -> list[Named]:
    """The greatest of those named, until they make up the excess [A]: what fuses' figures give beyond it is their error, and a second drain as small
    shows in the total once the first is mended."""
    kept: list[Named] = []
    for one in sorted(named, key=lambda n: -n.best_a):
        if sum(n.best_a for n in kept) >= excess_a - _room(excess_a):
            break
        kept.append(one)
    return [n for n in named if n in kept]


def _named(tree: FeedTree, where: str, least: float, best: float) -> Named:
    if where in tree.behind:
        members = tree.behind[where]
        title = tree.element(where).title
        return Named(
            where=where, title=title, why=Draws.BEHIND, least_a=least, best_a=best, boxed=any(tree.consumers[k].boxed for k in members)
        )
    consumer = tree.consumers[tree.consumer_at(where)]
    return Named(where=where, title=title_of(tree, where), why=consumer.why, least_a=least, best_a=best, boxed=consumer.boxed)


def _branches(tree: FeedTree, currents: Currents, usual: Floats, threshold: float, done: set[str]) -> list[Named]:
    """The deepest stretches that must carry excess no named consumer behind them explains."""
    found: list[tuple[frozenset[int], Named]] = []
    explained = {tree.consumer_at(name) for name in done}
    for s in reversed(tree.stretches):
        members = tree.behind[s.branch]
        if not members or any(got <= members for got, _ in found):
            continue
        inside = sum(currents.consumers[k].best for k in members & explained)
        least = currents.stretches[s.branch].low - inside - 1.5 * sum(usual[k] for k in members - explained)
        if least > threshold and not (len(members) == 1 and members <= explained):
            best = currents.stretches[s.branch].best - inside - float(sum(usual[k] for k in members - explained))
            same = [t for t in tree.stretches if tree.behind[t.branch] == members]  # a fuse among wires in line is the name for them all
            top = next((t for t in same if isinstance(tree.element(t.branch), Fuse)), s)
            found.append((members, _named(tree, top.branch, least, max(best, least))))
    return [named for _, named in found]


def title_of(tree: FeedTree, where: str) -> str:
    """A place in words."""
    if where == TOTAL:
        return "total"
    if where in tree.behind:
        return tree.element(where).title
    consumer = tree.consumers[tree.consumer_at(where)]
    if not consumer.listed:
        return (
            Phrase("behind {title}, off the drawing", title=tree.sheet.element(consumer.element).title)
            if consumer.element
            else Phrase("before every fuse, off the drawing")
        )
    return tree.sheet.element(consumer.element).title


def probes(
    tree: FeedTree, method: Method = Method.DROP, excess_a: float = np.inf, meter_step_v: float = METER_STEP_V
) -> Iterator[DrainProbe]:
    """Every probe the machine offers, by method: clamps on the cables, fuses by drop or pulled, plugs and consumers parted.

    A fuse on which a last digit of the meter [V] hides much of the excess [A] is pulled whatever the method: its millivolts would tell nothing.
    """
    usual = np.array([c.usual_a for c in tree.consumers])

    def offer(where: str, way: Way, own: float, reach: float) -> DrainProbe:
        good = float(row_of(tree, where) @ usual)
        return DrainProbe(where=where, way=way, title=title_of(tree, where), bits=0, minutes=own + reach, good_a=good)

    minutes = {p: described.minutes for p, described in tree.sheet.points.items()}

    def by_fuse(fuse: Fuse) -> tuple[Way, float]:
        hides = hidden_a(meter_step_v, fuse.rating_a, fuse.make) > DRAIN_HIDDEN_SHARE * excess_a
        return (Way.PULL, PULL_MINUTES) if method is Method.PULL or hides else (Way.DROP, NIB_MINUTES)

    yield from (
        offer(s.branch, Way.CLAMP, CLAMP_MINUTES, minutes[s.upper])
        for s in tree.stretches
        if tree.element(s.branch).type == "cable" and s.branch not in tree.two_way
    )
    yield from (offer(s.branch, *by_fuse(fuse), SAME_BOX * minutes[s.lower]) for s, fuse in tree.fuses())
    yield from (offer(s.branch, Way.PART, PART_MINUTES, minutes[s.lower]) for s in tree.plugs())
    yield from (offer(c.branch, Way.PART, PART_MINUTES, minutes[c.point]) for c in tree.consumers if c.listed)


def next_probes(
    tree: FeedTree,
    currents: Currents,
    finding: Finding,
    taken: Sequence[Taken],
    method: Method = Method.DROP,
    most: int = 4,
    split: bool = True,
    meter_step_v: float = METER_STEP_V,
) -> list[DrainProbe]:
    """The probes worth making; none when the total is not over what sleeps.

    `split`: by main cable first, then by box, by fuse and by plug, each as far as it tells, and what tells most a minute within each;
    else by what tells most a minute alone.
    """
    if finding.excess_a <= LEAST_EXCESS_A:
        return []
    share = np.array(finding.share)
    done = {(t.where, t.way) for t in taken}
    rated = set(finding.too_small)
    tier, worth = _tiers(tree), []
    for probe in probes(tree, method, finding.excess_a, meter_step_v):
        if (probe.where, probe.way) in done or probe.where in rated:
            continue
        below = float(row_of(tree, probe.where) @ share)
        bounds = currents.of(probe.where, tree)
        open_share = min(max(min(bounds.high, currents.total.high) - bounds.low, 0.0) / finding.excess_a, 1.0)
        bits = _entropy(below) * open_share
        kept = DISTURBS if probe.way in (Way.PART, Way.PULL) else 1.0
        if bits > (LEAST_SPLIT_BITS if tier[probe.where] < 2 else LEAST_BITS):
            found = DrainProbe(where=probe.where, way=probe.way, title=probe.title, bits=bits, minutes=probe.minutes, good_a=probe.good_a)
            worth.append((tier[probe.where], -bits * kept / probe.minutes, found))
    worth.sort(key=lambda w: w[:2] if split else w[1:2])
    return [probe for *_, probe in worth[:most]]


def within_named(tree: FeedTree, finding: Finding, offered: Sequence[DrainProbe]) -> list[DrainProbe]:
    """Of some probes those that part a named stretch further: what draws behind it is not told yet."""
    named = [tree.behind[n.where] for n in finding.named if n.where in tree.behind]
    return [p for p in offered if any(tree.members(p.where) < mine for mine in named)]


def _tiers(tree: FeedTree) -> dict[str, int]:
    """Which split a place belongs to: 0 main cable, 1 fuse that feeds a box, 2 fuse or cable behind it, 3 plug or consumer."""
    fuses = {s.branch: tree.behind[s.branch] for s, _ in tree.fuses()}
    feeders = {name for name, members in fuses.items() if any(inner < members for inner in fuses.values() if inner)}
    main = {s.branch for s in tree.main_cables()}
    found = {c.branch: 3 for c in tree.consumers} | {s.branch: 3 if tree.element(s.branch).type == "plug" else 2 for s in tree.stretches}
    return found | dict.fromkeys(feeders, 1) | dict.fromkeys(main, 0)


def _entropy(p: float) -> float:
    p = min(max(p, 1e-9), 1 - 1e-9)
    return -p * log2(p) - (1 - p) * log2(1 - p)
