"""Severities between those drawn: where what a fault shows passes, from one variant to the next, through what was read.

Some dozens of variants leave gaps: a joint that loses two volts cranks it, the next one stops it, and what was read lies between. Such a stratum holds nothing
of the evidence until it is drawn anew, so it is looked for by what its neighbours bracket (docs/method/diagnosing.md).
"""

import numpy as np

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.diagnose.coming import HeldReadings
from iron_probe.core.diagnose.ensemble import PER_STRATUM, STRATA, Ensemble
from iron_probe.core.diagnose.places import PlaceRead
from iron_probe.core.diagnose.shown import shown_by

MOST_BETWEEN = 6
"""So many strata that may hold what was read between their variants are drawn anew at once."""


def strata_between(ensemble: Ensemble, read: HeldReadings, prior: Floats) -> list[tuple[int, int]]:
    """The strata (hypothesis, stratum) that would explain most if every reading which their variants bracket were met between two of them, by the
    log `prior` (H,) and the best that each does for the others."""
    hopeful = np.repeat(prior[:, None], STRATA, axis=1)
    for place, held in zip(read.places, read.fits, strict=True):
        if place.reading.alters:
            continue
        log = held.fit.log.reshape(-1, STRATA, PER_STRATUM)
        best = log.max(axis=2)
        hopeful += np.where(_bracketed(ensemble, place), log.max(), best)
    graded = np.array([h.graded and h.comes < 1 for h in ensemble.hypotheses]) & ensemble.single
    hopeful[~graded] = -np.inf
    order = np.argsort(-hopeful, axis=None)[:MOST_BETWEEN]
    return [(int(k), int(s)) for k, s in zip(*np.unravel_index(order, hopeful.shape), strict=True) if np.isfinite(hopeful[k, s])]


def _bracketed(ensemble: Ensemble, place: PlaceRead) -> Bools:
    """Strata (H, STRATA) at which a reading lies between what two neighbouring variants show, or at which the word it is answered with changes."""
    shown = np.asarray(shown_by(ensemble, place.reading).predicted, dtype=float).reshape(-1, ensemble.size)
    side = shown if place.reading.value is None else np.sign(shown - float(np.mean(place.values)))
    passes = side[:, 1:] != side[:, :-1]
    either = np.zeros(shown.shape, dtype=bool)
    either[:, 1:] |= passes
    either[:, :-1] |= passes
    return np.asarray(either.reshape(-1, STRATA, PER_STRATUM).any(axis=2))
