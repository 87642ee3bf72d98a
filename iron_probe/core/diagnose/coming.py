"""Faults that come and go: there or away for as long as an attempt lasts, whatever is read in it.

A crank is an attempt; a reading that names none is one by itself. While such a fault is away the same machine is sound.
"""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats
from iron_probe.core.diagnose.fits import HeldFit
from iron_probe.core.diagnose.likelihood import slip_chance
from iron_probe.core.diagnose.places import PlaceRead

LOG_THERE = LOG_AWAY = float(np.log(0.5))
"""How often a fault that comes and goes is there at an attempt, and away (common practice: as often as not), as logarithms."""
HALF = 0.5
"""Share of what is left that takes a reading for a slip, or for one read while the fault was away."""
ONE_OR_ANOTHER = 0.5
"""Slips expected together, over those that readings of their kind are beforehand, from which what is left stands only by calling one reading or
another a slip."""
HARDLY = 0.01
"""Share of what is left that comes and goes, up to which no reading is asked whether it was taken while the fault was away."""

NEXT_TO_NOTHING = 1e-6
"""Share of what is left that is not asked at all."""


def attempts_of(places: Sequence[PlaceRead]) -> list[list[int]]:
    """Positions of the places that were read in one attempt, attempt by attempt."""
    found: dict[object, list[int]] = defaultdict(list)
    for k, place in enumerate(places):
        crank = place.reading.crank
        found[k if crank is None else (place.reading.state, crank)].append(k)
    return list(found.values())


@dataclass(frozen=True, slots=True)
class Coming:
    """Readings on machines whose fault may come and go. All (hypotheses, variants): `log` likelihood, `fleeting` chance that the fault is one
    that comes and goes; of each attempt the log likelihoods `faulty`, with the fault, and `either`, with it there or away."""

    log: Floats
    fleeting: Floats
    faulty: Sequence[Floats]
    either: Sequence[Floats]

    def there(self, attempt: int, some: NDArray[np.int64]) -> Floats:
        """Chance (some, variants) that a fault that comes and goes was there at an attempt, of some hypotheses."""
        return np.exp(LOG_THERE + self.faulty[attempt][some] - self.either[attempt][some])


def there_or_away(faulty: Floats, sound: Floats) -> Floats:
    """Log likelihood of what was read in one attempt where the fault may have been there or away, from those with it and without."""
    return np.logaddexp(LOG_THERE + faulty, LOG_AWAY + sound)


def coming(steady: Floats, comes: Floats, faulty: Sequence[Floats], either: Sequence[Floats], beforehand: Floats | float = 0.0) -> Coming:
    """`steady` (hypotheses, variants) log likelihood of all readings with the fault always there; `comes` (hypotheses,) its chance to be one that
    comes and goes; `beforehand` what is known of each without readings, as a logarithm; of each attempt the log likelihoods of what was read in
    it, with the fault and with it there or away."""
    log, fleeting = steady.copy(), np.zeros(steady.shape)
    may = comes > 0  # the others are always there
    with np.errstate(divide="ignore"):
        always, gone = np.log(1 - comes[may])[:, None] + steady[may], np.log(comes[may])[:, None] + _sum(either, steady.shape)[may]
    log[may] = np.logaddexp(always, gone)
    fleeting[may] = np.exp(gone - log[may])
    return Coming(log + beforehand, fleeting, faulty, either)


def _sum(logs: Sequence[Floats], shape: tuple[int, ...]) -> Floats:
    total: Floats = np.zeros(shape)
    for log in logs:
        total += log
    return total


@dataclass(frozen=True, slots=True)
class HeldReadings:
    """All readings held against the first draw: as `places` with their `fits`; as `seen`, what was read at another attempt apart, with theirs;
    which of those make up each of the `attempts`; their `total` (hypotheses, variants) for faults that are always there, and `come`."""

    places: Sequence[PlaceRead]
    fits: Sequence[HeldFit]
    seen: Sequence[PlaceRead]
    seen_fits: Sequence[HeldFit]
    attempts: Sequence[Sequence[int]]
    total: Floats
    come: Coming


@dataclass(frozen=True, slots=True)
class Left:
    """What is left, as shares of the whole (hypotheses, variants): `weights` of it all, and `near` what of it lies beside a part. `pairs` is what two
    faults at once hold beside them, of what is drawn, and `pair_slip` the chance by place that its reading was a slip with the leading two."""

    weights: Floats
    near: Floats
    pairs: float = 0.0
    pair_slip: Sequence[float] = ()

    @property
    def leading(self) -> NDArray[np.int64]:
        """Numbers of the hypotheses that hold anything worth a sum."""
        return np.flatnonzero(self.weights.sum(axis=1) > NEXT_TO_NOTHING)


def read_while_away(held: HeldReadings, left: Left) -> list[int]:
    """Positions among what was seen of readings that by more than half of what is left were taken while the fault was away."""
    some = left.leading
    fleeting = held.come.fleeting[some] * left.weights[some]
    if float(fleeting.sum()) <= HALF:
        return []
    away = [float(((1 - held.come.there(n, some)) * fleeting).sum()) > HALF for n in range(len(held.attempts))]
    return [k for one, gone in zip(held.attempts, away, strict=True) if gone for k in one]


def slipped(held: HeldReadings, left: Left, accusing: Mapping[str, NDArray[np.int64]]) -> list[PlaceRead]:
    """Places whose reading more than half of what is left takes for a slip; or, where what is left calls one reading or another a slip, the one that
    it takes for one most over what was to be expected of it. `accusing` has the numbers of each part's hypotheses."""
    attempt = {k: n for n, one in enumerate(held.attempts) for k in one}
    position = {number: k for k, place in enumerate(held.seen) for number in place.numbers}
    some = left.leading
    weights = left.weights[some]
    fleeting = held.come.fleeting[some] * weights
    shares, beyond = np.zeros(len(held.places)), np.zeros(len(held.places))
    for number, (place, fit) in enumerate(zip(held.places, held.fits, strict=True)):
        if place.reading.told:
            continue
        slip = fit.fit.slip.reshape(held.total.shape)
        share = float((slip[some] * weights).sum())
        if float(fleeting.sum()) > HARDLY:
            mine = {position[number] for number in place.numbers}
            coming_by = np.min([_slip_coming(held.seen_fits[k], held.come.there(attempt[k], some), some) for k in mine], axis=0)
            share += float(((coming_by - slip[some]) * fleeting).sum())
        near = accusing.get(place.reading.on_part or "")
        if near is not None:  # what lies beside the part leaves it sound
            share += float((left.near[near] * (slip[0].mean() - slip[near])).sum())
        if left.pairs:
            share = (1 - left.pairs) * share + left.pairs * left.pair_slip[number]
        shares[number], beyond[number] = share, max(share - slip_chance(place.reading), 0.0)
    found = [place for place, share in zip(held.places, shares, strict=True) if share > HALF]
    return found or ([held.places[int(beyond.argmax())]] if beyond.sum() > ONE_OR_ANOTHER else [])


def shown_by_some(held: HeldReadings, places: Sequence[PlaceRead]) -> bool:
    """Whether each of some places may show what was read there by a fault that is drawn: what every one of them would call a slip, though it was read
    so twice, is the work of something that is not drawn, and of no second fault."""
    fits = dict(zip((place.numbers for place in held.places), held.fits, strict=True))
    return all(float(fits[place.numbers].fit.slip.min()) < HALF for place in places)


def _slip_coming(fit: HeldFit, there: Floats, some: NDArray[np.int64]) -> Floats:
    """Chance (some, variants) that a reading was a slip where the fault comes and goes: as of a sound machine while it was away."""
    slip = fit.fit.slip.reshape(-1, there.shape[1])
    return slip[0] + there * (slip[some] - slip[0])
