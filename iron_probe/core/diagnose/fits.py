"""How readings fit an ensemble, kept: the same reading at the same place is worked out once, whichever job it was taken on."""

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from iron_probe.core.circuit.network import Floats
from iron_probe.core.diagnose.likelihood import Fit

FITS_BYTES = 64_000_000
"""What the kept fits of one ensemble may hold."""


def log_sum(values: Floats, axis: int | None = None) -> Floats:
    """Logarithm of the sum of exponentials, over all or along an axis."""
    top = np.max(values, axis=axis, keepdims=True)
    top = np.where(np.isfinite(top), top, 0.0)
    with np.errstate(divide="ignore"):
        found = np.log(np.sum(np.exp(values - top), axis=axis, keepdims=True)) + top
    return found.reshape(()) if axis is None else np.squeeze(found, axis=axis)


@dataclass(frozen=True, slots=True)
class HeldFit:
    """A reading's fit to the first draw: `fit` of every variant, `per` hypothesis (count,) its mean likelihood as a logarithm, and the
    elements whose own test the reading is."""

    fit: Fit
    per: Floats
    own: frozenset[str]

    @property
    def sound(self) -> float:
        """Mean likelihood on sound machines, as a logarithm: the first hypothesis is no fault."""
        return float(self.per[0])


class HeldFits:
    """Fits by key, bounded by bytes, the least used going first."""

    def __init__(self, most_bytes: int = FITS_BYTES) -> None:
        self._most, self._bytes = most_bytes, 0
        self._first: OrderedDict[object, HeldFit] = OrderedDict()
        self._some: OrderedDict[object, Fit] = OrderedDict()

    def first(self, key: object, make: Callable[[], HeldFit]) -> HeldFit:
        """The fit of a key to the first draw."""
        held = self._first.get(key)
        if held is None:
            held = make()
            self._first[key] = held
            self._bytes += _size(held.fit)
            while self._bytes > self._most and len(self._first) > 1:
                self._bytes -= _size(self._first.popitem(last=False)[1].fit)
        else:
            self._first.move_to_end(key)
        return held

    def some(self, key: object, make: Callable[[], Fit]) -> Fit:
        """The fit of a key to strata drawn anew."""
        fit = self._some.get(key)
        if fit is None:
            fit = make()
            self._some[key] = fit
            while len(self._some) > 2000:
                self._some.popitem(last=False)
        else:
            self._some.move_to_end(key)
        return fit


def _size(fit: Fit) -> int:
    return int(fit.log.nbytes + fit.slip.nbytes)
