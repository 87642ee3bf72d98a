"""A record of the total read as going to sleep: its level, when it was reached, what wakes again and what that costs."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.drain.feed_tree import FeedTree
from iron_probe.core.limits import AWAKE_A, AWAKE_SHARE, STEADY_S, STEP_MATCH_A, STEP_MATCH_SHARE, TIMER_SHARE
from iron_probe.core.trace.steps import Plateau, Stairs, find_steps


@dataclass(frozen=True, slots=True, kw_only=True)
class Wake:
    """A time awake after the machine slept: start and length [s], mean [A] over it, and the amp-hours it took over the sleep level."""

    start_s: float
    lasts_s: float
    mean_a: float
    cost_ah: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Match:
    """A step and the consumers whose own change is about its size, likeliest first."""

    at_s: float
    size_a: float
    elements: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class SleepRecord:
    """What a record says. `sleep_a` the lowest steady level, None when none held; `asleep_after_s` until it was first reached; `awake_since_s`
    when it woke and had not slept again at the end; `period_s` between wakes when they come on a timer; `mean_a` over all after the first sleep (over all when it never slept); `ah_per_day` of that."""

    stairs: Stairs
    sleep_a: float | None
    slept: bool
    asleep_after_s: float | None
    wakes: tuple[Wake, ...]
    awake_since_s: float | None
    period_s: float | None
    mean_a: float
    ah_per_day: float
    length_s: float
    matches: tuple[Match, ...]


def read_sleep(amps: Sequence[float] | Floats, step_s: float, limit_a: float, tree: FeedTree | None = None) -> SleepRecord:
    """Read a record (samples,) [A], `step_s` [s] apart, against the machine's limit [A]; CaptureError for one that is none."""
    return sleep_of(find_steps(amps, step_s), limit_a, tree)


def sleep_of(stairs: Stairs, limit_a: float, tree: FeedTree | None = None, measured: Mapping[str, float] | None = None) -> SleepRecord:
    """The same from the levels of a record; `measured` are currents [A] found in a sweep, by element, to match its steps with too."""
    step_s, count = stairs.step_s, stairs.levels[-1].last
    holds = min(STEADY_S, count * step_s / 6)
    steady = [v for v in stairs.levels if (v.last - v.first) * step_s >= holds]
    asleep = [v for v in steady if v.mean_a <= limit_a]
    sleep_a = min((v.mean_a for v in steady), default=None)
    first = asleep[0].first if asleep else None
    wakes = _wakes(stairs, first, sleep_a or 0.0) if first is not None else ()
    stays = wakes[-1] if wakes and wakes[-1].start_s + wakes[-1].lasts_s >= (count - 1) * step_s else None
    wakes = wakes[:-1] if stays else wakes
    after = [v for v in stairs.levels if v.last > (first or 0)]
    mean = sum(v.mean_a * (v.last - v.first) for v in after) / max(sum(v.last - v.first for v in after), 1)
    return SleepRecord(
        stairs=stairs, sleep_a=sleep_a, slept=first is not None, asleep_after_s=None if first is None else first * step_s,
        wakes=wakes, awake_since_s=stays.start_s if stays else None, period_s=_period(wakes), mean_a=mean, ah_per_day=24 * mean, length_s=count * step_s,
        matches=tuple(_matches(stairs, tree, measured or {})) if tree else (),
    )  # fmt: skip


def _wakes(stairs: Stairs, first: int, sleep_a: float) -> tuple[Wake, ...]:
    """Runs of levels over the sleep level, after it was first reached."""
    line, step_s = sleep_a + max(AWAKE_SHARE * sleep_a, AWAKE_A), stairs.step_s
    runs: list[list[Plateau]] = []
    for level in stairs.levels:
        if level.last <= first or level.mean_a <= line:
            continue
        if runs and runs[-1][-1].last == level.first:
            runs[-1].append(level)
        else:
            runs.append([level])
    found = []
    for run in runs:
        lasts = (run[-1].last - run[0].first) * step_s
        amp_s = sum(v.mean_a * (v.last - v.first) for v in run) * step_s
        found.append(Wake(start_s=run[0].first * step_s, lasts_s=lasts, mean_a=amp_s / lasts, cost_ah=(amp_s - sleep_a * lasts) / 3600))
    return tuple(found)


def _period(wakes: Sequence[Wake]) -> float | None:
    """Spacing [s] of wakes that come on a timer; None with fewer than three or when they come as they like."""
    gaps = np.diff([w.start_s for w in wakes])
    if len(gaps) < 2:
        return None
    middle = float(np.median(gaps))
    return middle if float(np.median(np.abs(gaps - middle))) < TIMER_SHARE * middle else None


def _matches(stairs: Stairs, tree: FeedTree, measured: Mapping[str, float]) -> list[Match]:
    """Steps with the consumers, and the branches measured, whose draw would make them, by how near they come."""
    known = [(c.awake_a - c.usual_a, c.element) for c in tree.consumers if c.listed]
    known += [(amps, element) for element, amps in measured.items() if amps > STEP_MATCH_A]
    found = []
    for step in stairs.steps:
        size = abs(step.size_a)
        near = sorted((abs(a - size), e) for a, e in known if abs(a - size) <= max(STEP_MATCH_SHARE * size, STEP_MATCH_A))
        found.append(Match(at_s=step.at * stairs.step_s, size_a=step.size_a, elements=tuple(dict.fromkeys(e for _, e in near))[:3]))
    return found
