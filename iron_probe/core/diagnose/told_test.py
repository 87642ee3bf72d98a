"""A test worth making, with what sound machines show in it and what the leading suspects would."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.shown import shown_first
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.phrase import Phrase


@dataclass(frozen=True, slots=True, kw_only=True)
class NextTest:
    """A test worth making. `bits` of information expected, `expected_good` and each leading suspect's typical reading in SI or as a
    symptom code, `why` the reason in words, `again` the place of the reading that is taken once more among those held, from 1, which `why` then is said of,
    `closing` the element whose own test this is."""

    reading: Reading
    bits: float
    minutes: float
    expected_good: float
    by_suspect: tuple[tuple[str, float], ...]
    why: Phrase
    again: int | None = None
    closing: str | None = None


def told_test(
    case: Case, posterior: Posterior, book: TestBook, number: int, reading: Reading, bits: float, minutes: float, why: Phrase,
    closing: str | None = None, again: int | None = None,
) -> NextTest:  # fmt: skip
    """A test with what sound machines show in it, and what the leading suspects would."""
    seen = book.sound[number]
    by = predicted_by(case.ensemble, posterior, reading, [s.element for s in posterior.suspects[:3]])
    return NextTest(
        reading=reading, bits=bits, minutes=minutes, expected_good=_middle(reading, seen, np.ones(len(seen))), by_suspect=tuple(by), why=why,
        closing=closing, again=again,
    )  # fmt: skip


def predicted_by(ensemble: Ensemble, posterior: Posterior, reading: Reading, elements: Sequence[str]) -> list[tuple[str, float]]:
    """What each of some suspects would typically show for a reading, by what is left of it; V, A or the code of a word."""
    found = []
    for element in elements:
        mine = (ensemble.accusing[element][:, None] * ensemble.size + np.arange(ensemble.size)).ravel()
        left = mine[posterior.weights[mine] > 0]
        if len(left):
            found.append((element, _middle(reading, shown_first(ensemble, reading, left), posterior.weights[left])))
    return found


def _middle(reading: Reading, seen: Floats, weight: Floats) -> float:
    """Weighted median of what variants would show; the commonest code for words."""
    if reading.value is None:
        return float(np.bincount(seen.astype(int), weights=weight).argmax())
    order = np.argsort(seen)
    total = np.cumsum(weight[order])
    return float(seen[order][np.searchsorted(total, total[-1] / 2)])
