"""How readings fit an ensemble, kept: the same reading at the same place is worked out once, whichever job it was taken on."""

from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass
from itertools import count
from typing import Any

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.diagnose.likelihood import Fit

FITS_BYTES = 64_000_000
"""What the kept fits of one ensemble may hold."""
MOST_STRATA = 60_000
"""Fits of strata drawn anew that are kept over all places: a quarter of a kilobyte each."""
MOST_NUMBERS = 20_000
"""Strata known by a number at once."""


def log_sum(values: Floats, axis: int | None = None) -> Floats:
    """Logarithm of the sum of exponentials, over all or along an axis."""
    top = values.max(axis=axis, keepdims=True)
    top = np.where(np.isfinite(top), top, 0.0)
    with np.errstate(divide="ignore"):
        found = np.log(np.exp(values - top).sum(axis=axis, keepdims=True)) + top
    return found.reshape(()) if axis is None else np.squeeze(found, axis=axis)


@dataclass(frozen=True, slots=True)
class HeldFit:
    """A reading's fit to the first draw: `fit` of every variant, and `per` hypothesis (count,) its mean likelihood as a logarithm."""

    fit: Fit
    per: Floats

    @property
    def sound(self) -> float:
        """Mean likelihood on sound machines, as a logarithm: the first hypothesis is no fault."""
        return float(self.per[0])


@dataclass(slots=True)
class HeldStrata:
    """Log likelihoods (strata, variants) of a place on the strata drawn anew so far, with the row of each by its number."""

    row: dict[int, int]
    log: Floats

    def add(self, numbers: Sequence[int], log: Floats) -> None:
        """Put the rows of more strata behind those there are."""
        self.row.update({number: len(self.log) + k for k, number in enumerate(numbers)})
        self.log = np.concatenate([self.log, log]) if len(self.log) else log


class HeldFits:
    """Fits by place and by attempt, bounded by bytes, the least used going first; those to strata drawn anew stand by stratum within their
    place."""

    def __init__(self, most_bytes: int = FITS_BYTES, most_strata: int = MOST_STRATA) -> None:
        self._most, self._bytes = most_bytes, 0
        self._most_strata, self._strata_held = most_strata, 0
        self._first: OrderedDict[Hashable, HeldFit | Floats] = OrderedDict()
        self._strata: OrderedDict[Hashable, HeldStrata] = OrderedDict()
        self._numbers: dict[Hashable, int] = {}
        self._unused = count()

    def first(self, place: Hashable, make: Callable[[], HeldFit]) -> HeldFit:
        """The fit of a place to the first draw."""
        return self._held(("place", place), make)

    def attempt(self, places: Hashable, make: Callable[[], Floats]) -> Floats:
        """What the places of one attempt say together of the first draw, however it was worked out."""
        return self._held(("attempt", places), make)

    def _held(self, key: Hashable, make: Callable[[], Any]) -> Any:
        held = self._first.get(key)
        if held is None:
            held = make()
            self._first[key] = held
            self._bytes += _size(held)
            while self._bytes > self._most and len(self._first) > 1:
                self._bytes -= _size(self._first.popitem(last=False)[1])
        else:
            self._first.move_to_end(key)
        return held

    def number_of(self, stratum: Hashable) -> int:
        """A stratum's number here: cheaper to look up than its name, once for every place."""
        if stratum not in self._numbers:
            if len(self._numbers) >= MOST_NUMBERS:  # numbers are never given twice, so those in use stay true
                self._numbers.clear()
            self._numbers[stratum] = next(self._unused)
        return self._numbers[stratum]

    def strata(self, place: Hashable, numbers: Sequence[int], make: Callable[[list[int]], Floats]) -> Floats:
        """Log likelihoods (strata, variants) of a place on some strata by their numbers; `make` works out those it is given the places of, a row each."""
        held = self._strata.setdefault(place, HeldStrata({}, np.zeros((0, 0))))
        self._strata.move_to_end(place)
        missing = [k for k, number in enumerate(numbers) if number not in held.row]
        if missing:
            held.add([numbers[k] for k in missing], make(missing))
            self._strata_held += len(missing)
        found = held.log[[held.row[number] for number in numbers]]
        while self._strata_held > self._most_strata:
            self._strata_held -= len(self._strata.popitem(last=False)[1].log)
        return found


def _size(held: HeldFit | Floats) -> int:
    return int(held.fit.log.nbytes + held.fit.slip.nbytes if isinstance(held, HeldFit) else held.nbytes)
