"""Steps in a long record of current: levels between them, with noise, drift and a clamp's creeping zero set aside."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import ArrayLike

from iron_probe.core.arrays import Floats
from iron_probe.core.errors import CaptureError

WINDOWS_S = (1.0, 10.0, 60.0)
"""Lengths of the two windows that are compared on either side of a moment [s]."""
FEWEST = 8
"""A window holds so many samples at the least, where the record has them."""
SIGMAS = 6.0
"""A step stands out of the noise by so many standard errors: with millions of samples, chance alone reaches five."""
LEAST_STEP_A = 0.003
"""Smaller changes [A] are a clamp's zero creeping, not a step."""
DRIFT_A_PER_MIN = 0.001
"""Zero creep a clamp is allowed [A/min]; a window's step must exceed what that amounts to over it (common practice)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Plateau:
    """A stretch between two steps: samples `first` up to `last` (not included) and mean [A]."""

    first: int
    last: int
    mean_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Step:
    """A change of level at a sample: from the mean just before to the mean just after [A]."""

    at: int
    from_a: float
    to_a: float

    @property
    def size_a(self) -> float:
        return self.to_a - self.from_a


@dataclass(frozen=True, slots=True, kw_only=True)
class Stairs:
    """A record cut into levels by steps, `step_s` [s] between samples, `noise_a` [A] of one sample."""

    steps: tuple[Step, ...]
    levels: tuple[Plateau, ...]
    step_s: float
    noise_a: float


def noise_of(amps: Floats) -> float:
    """Noise of one sample [A]: from the differences of neighbours, by their median, so that steps do not count."""
    if len(amps) < 3:
        return 0.0
    return float(np.median(np.abs(np.diff(amps)))) * 1.4826 / np.sqrt(2)


def find_steps(amps: ArrayLike, step_s: float, least_a: float = LEAST_STEP_A) -> Stairs:
    """Cut an evenly sampled record (samples,) [A] into levels; CaptureError for one that is too short or not a number.

    Windows of several lengths slide along, the difference of their means held against the noise; where one stands out, the edge is put
    where two levels fit best; then edges whose levels do not differ enough are dropped, the weakest first.
    """
    record = np.asarray(amps, dtype=np.float64)
    if len(record) < 4 or step_s <= 0:
        raise CaptureError("A record needs at least four samples, evenly in time.")
    if not np.isfinite(record).all():
        raise CaptureError("The record holds something that is no number; import it again and look at the lines told.")
    noise = noise_of(record)
    sums = np.concatenate([[0.0], np.cumsum(record)])
    edges: set[int] = set()
    for window_s in WINDOWS_S:
        window = min(max(round(window_s / step_s), FEWEST), len(record) // 2)
        edges |= set(_edges(sums, window, noise, least_a, step_s))
    placed = _placed(record, sums, sorted(edges), max(round(WINDOWS_S[0] / step_s), FEWEST))
    kept = _kept(sums, placed, noise, least_a, step_s)
    bounds = [0, *kept, len(record)]
    levels = tuple(Plateau(first=a, last=b, mean_a=_mean(sums, a, b)) for a, b in pairwise(bounds))
    reach = max(round(WINDOWS_S[-1] / step_s), FEWEST)
    steps = tuple(
        Step(at=b, from_a=_mean(sums, max(a, b - reach), b), to_a=_mean(sums, b, min(c, b + reach)))
        for a, b, c in zip(bounds, bounds[1:], bounds[2:], strict=False)
    )
    return Stairs(steps=steps, levels=levels, step_s=step_s, noise_a=noise)


def _mean(sums: Floats, first: int, last: int) -> float:
    return float((sums[last] - sums[first]) / max(last - first, 1))


def _threshold(count: int, noise: float, least_a: float, step_s: float) -> float:
    """Least difference of two windows of `count` samples that is a step [A]."""
    return max(SIGMAS * noise * float(np.sqrt(2 / count)), least_a, 1.5 * DRIFT_A_PER_MIN * count * step_s / 60)


def _edges(sums: Floats, window: int, noise: float, least_a: float, step_s: float) -> Iterator[int]:
    """Moments where the means of the windows before and after differ most, once they differ enough."""
    if len(sums) <= 2 * window:
        return
    middle = sums[window:-window]
    apart = np.abs(sums[2 * window :] - 2 * middle + sums[: -2 * window])
    over = np.flatnonzero(apart > window * _threshold(window, noise, least_a, step_s))
    if not len(over):
        return
    for run in np.split(over, np.flatnonzero(np.diff(over) > 1) + 1):
        best = int(run[np.argmax(apart[run])])
        yield best + window
        for far in (run[0], run[-1]):  # a run longer than a window holds more than one edge
            if abs(int(far) - best) > window:
                yield int(far) + window


def _placed(record: Floats, sums: Floats, edges: Sequence[int], reach: int) -> list[int]:
    """Each edge where two levels fit best between its neighbours, within `reach` samples of where it was seen."""
    found: list[int] = []
    for k, edge in enumerate(edges):
        before = edges[k - 1] if k else 0
        after = edges[k + 1] if k + 1 < len(edges) else len(record)
        low, high = max(before, edge - 2 * reach, found[-1] if found else 0), min(after, edge + 2 * reach)
        if high - low < 2:
            continue
        at = np.arange(low + 1, high)
        left, right = (sums[at] - sums[low]) / (at - low), (sums[high] - sums[at]) / (high - at)
        fits = (at - low) * left**2 + (high - at) * right**2  # the greatest explained sum of squares is the least left
        best = int(at[np.argmax(fits)])
        if not found or best > found[-1]:
            found.append(best)
    return found


def _kept(sums: Floats, edges: list[int], noise: float, least_a: float, step_s: float) -> list[int]:
    """Edges whose levels differ enough beside them, the weakest dropped first."""
    reach = max(round(WINDOWS_S[-1] / step_s), FEWEST)
    last = len(sums) - 1
    kept = list(edges)

    def worth(k: int) -> float:
        before = kept[k - 1] if k else 0
        after = kept[k + 1] if k + 1 < len(kept) else last
        a, b = max(before, kept[k] - reach), min(after, kept[k] + reach)
        count = 2 / (1 / (kept[k] - a) + 1 / (b - kept[k]))
        size = abs(_mean(sums, kept[k], b) - _mean(sums, a, kept[k]))
        limit = max(SIGMAS * noise * float(np.sqrt(2 / count)), least_a, DRIFT_A_PER_MIN * count * step_s / 60)
        return size / limit

    scores = [worth(k) for k in range(len(kept))]
    while scores and min(scores) < 1:
        k = int(np.argmin(scores))
        del kept[k], scores[k]
        for near in (k - 1, k):
            if 0 <= near < len(kept):
                scores[near] = worth(near)
    return kept


def even_record(times_s: Sequence[float], amps: Sequence[float], most: int = 5_000_000) -> tuple[Floats, float]:
    """Typed or unevenly logged points as an even record: each value holds until the next, at the shortest spacing there is.

    CaptureError with fewer than four points, or times that do not rise.
    """
    times, values = np.asarray(times_s, dtype=np.float64), np.asarray(amps, dtype=np.float64)
    if len(times) < 4:
        raise CaptureError("Four points at least make a record of going to sleep: type more, or import a log.")
    gaps = np.diff(times)
    if (gaps <= 0).any():
        raise CaptureError("Times must rise from point to point; two points stand at the same moment or run backwards.")
    step_s = max(float(np.min(gaps)), float(times[-1] - times[0]) / most)
    at = times[0] + step_s * np.arange(int((times[-1] - times[0]) / step_s + 1e-6) + 1)
    return values[np.searchsorted(times, at + 1e-9, side="right") - 1], step_s
