"""A capture of a fuse blowing: supply volts behind it and one clamp per branch; which branch ran away, which are cleared."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from iron_probe.core.arrays import Floats
from iron_probe.core.bench.fuse_trip.time_current import judge_opening, multiples_for
from iron_probe.core.circuit.fuses import FuseKind
from iron_probe.core.errors import CaptureError
from iron_probe.core.limits import BRANCH_CLEARED_SHARE, BRANCH_RAN_AWAY, FUSE_HOLDS, FUSE_OPEN_SHARE, LAST_BEFORE_OPENING_S
from iron_probe.core.phrase import Phrase, Sentences

CEILING_RUN = 4
"""So many samples in a row at the greatest value are the clamp's ceiling."""


class BranchWord(Sentences):
    """What a branch did as the fuse opened."""

    RAN_AWAY = Phrase("ran away")
    CARRIES = Phrase("carries")
    CLEARED = Phrase("cleared")


@dataclass(frozen=True, slots=True, kw_only=True)
class BranchAtTrip:
    """A branch: its title, current before and at the opening [A] (`at_least` when the clamp was at its ceiling), I²t of the surge [A²s],
    and its word: ran away, carries, cleared."""

    title: str
    before_a: float
    at_trip_a: float
    at_least: bool
    i2t: float
    word: BranchWord


@dataclass(frozen=True, slots=True, kw_only=True)
class Trip:
    """What a capture shows: time of the opening [s], how long the surge lasted [s], branches, the runaway one by number, multiple of the
    rating in all branches, and what the time says: overload, short or either; `as_rated` how the fuse itself behaved."""

    opened_s: float
    surge_s: float
    branches: tuple[BranchAtTrip, ...]
    runaway: int | None
    multiple: float
    multiple_at_least: bool
    kind: str
    as_rated: str


def read_trip(volts: ArrayLike, branches: Mapping[str, ArrayLike], step_s: float, rating_a: float, make: FuseKind) -> Trip:
    """Read it from volts behind the fuse (samples,) and currents by branch (samples,), and what the fuse is; CaptureError when nothing
    opened in it."""
    supply = np.asarray(volts, dtype=np.float64)
    if not branches:
        raise CaptureError("The capture has no branch current: mark at least one column as amps.")
    before_v = float(np.median(supply[: max(len(supply) // 10, 3)]))
    live = supply > FUSE_OPEN_SHARE * before_v
    alive = np.flatnonzero(live)
    if before_v < 3 or not len(alive) or live[-max(len(supply) // 50, 2) :].any():
        raise CaptureError(
            "No fuse opens in this capture: the volts behind it never fall away for good. Put the voltage lead behind the fuse, provoke it, capture again."
        )
    opened = int(alive[-1]) + 1
    last = max(round(LAST_BEFORE_OPENING_S / step_s), 3)
    flows = {title: _forward(np.asarray(amps, dtype=np.float64), opened) for title, amps in branches.items()}
    start = _surge_start(np.sum(list(flows.values()), axis=0)[:opened], rating_a)
    read = [_branch(title, flow, start, opened, last, step_s, rating_a) for title, flow in flows.items()]
    rises = [b.at_trip_a - b.before_a for b in read]
    order = np.argsort(rises)[::-1]
    first = int(order[0])
    clear = rises[first] > BRANCH_CLEARED_SHARE * rating_a and (
        len(read) == 1 or rises[first] > BRANCH_RAN_AWAY * max(rises[int(order[1])], 1e-9)
    )
    runaway = first if clear or (read[first].at_least and not any(read[int(k)].at_least for k in order[1:])) else None
    worded = tuple(
        BranchAtTrip(
            title=b.title, before_a=b.before_a, at_trip_a=b.at_trip_a, at_least=b.at_least, i2t=b.i2t,
            word=BranchWord.RAN_AWAY if k == runaway else BranchWord.CLEARED if rises[k] <= BRANCH_CLEARED_SHARE * rating_a else BranchWord.CARRIES,
        )
        for k, b in enumerate(read)
    )  # fmt: skip
    surge = max((opened - start) * step_s, step_s)
    multiple = sum(b.at_trip_a for b in read) / rating_a
    fits = multiples_for(surge, make)
    at_least = any(b.at_least for b in read)
    as_rated = Phrase("the clamp was at its ceiling: the time alone tells") if at_least else judge_opening(multiple, surge, make)
    return Trip(
        opened_s=opened * step_s, surge_s=surge, branches=worded, runaway=runaway, multiple=multiple,
        multiple_at_least=at_least, kind=_kind(multiple, fits.word if fits else "either", at_least), as_rated=as_rated,
    )  # fmt: skip


def _kind(multiple: float, by_time: str, at_least: bool) -> str:
    if not at_least:
        return "overload" if multiple < 2.5 else "short" if multiple >= 5 or by_time == "short" else "either"
    return "short" if by_time == "short" or multiple >= 5 else by_time


def _forward(amps: Floats, opened: int) -> Floats:
    """The current with its greater side up: a clamp turned round reads below zero."""
    return amps if amps[:opened].max() >= -amps[:opened].min() else -amps


def _surge_start(total: Floats, rating_a: float) -> int:
    """First sample of the last run above what the fuse holds, up to its opening; halfway up the last rise where it never was above."""
    line = FUSE_HOLDS * rating_a
    if total[-3:].max() <= line:
        line = (float(np.median(total[: max(len(total) // 10, 3)])) + float(total[-3:].max())) / 2
    under = np.flatnonzero(total[:-3] <= line) if len(total) > 3 else np.array([], dtype=np.int64)
    return int(under[-1]) + 1 if len(under) else 0


def _branch(title: str, flow: Floats, start: int, opened: int, last: int, step_s: float, rating_a: float) -> BranchAtTrip:
    before = float(np.median(flow[: max(opened // 10, 3)]))
    peak = float(flow[max(opened - last, 0) : opened].max())
    top = flow[:opened].max()
    at_top = flow[:opened] >= top - max(1e-9, 1e-4 * abs(top))
    runs = np.diff(np.flatnonzero(np.diff(np.concatenate([[0], at_top.astype(np.int8), [0]]))))[::2]
    at_least = bool(len(runs) and runs.max() >= CEILING_RUN and top > before + BRANCH_CLEARED_SHARE * rating_a and at_top[-last:].any())
    return BranchAtTrip(
        title=title,
        before_a=before,
        at_trip_a=peak,
        at_least=at_least,
        i2t=float((flow[start:opened] ** 2).sum() * step_s),
        word=BranchWord.CARRIES,
    )
