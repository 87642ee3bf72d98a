"""A fault that the drawing does not show: beside a drawn part, or anywhere at all."""

from collections.abc import Sequence

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.diagnose.ensemble import QUIET_SHARE, Ensemble
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.diagnose.fits import HeldFit, log_sum
from iron_probe.core.diagnose.places import PlaceRead
from iron_probe.core.diagnose.scope import Scope

ANYWHERE_PRIOR, BESIDE_PRIOR = 0.015, 0.05
"""Chance beforehand that the fault lies anywhere off the drawing, and that it is a joint at the end of a drawn conductor which the drawing
lacks (common practice, no source)."""
SOUND_SHARE = 0.5
"""Share of readings that a fault lying anywhere leaves as a sound machine has them."""
ANYTHING = {Instrument.CLAMP: 1 / 400, Instrument.TESTER: 1 / 0.1, Instrument.CAPACITY: 1 / 200, Instrument.RIPPLE: 1 / 3}
"""Density of a reading that may be anything [1/A, 1/Ω, 1/Ah]; for volts by the system's."""
HEARD_AS_SOUND = float(np.log(0.5))
"""A word that sound machines are given less often than this is a complaint, as a logarithm."""


def lying_anywhere(ensemble: Ensemble, places: Sequence[PlaceRead], fits: Sequence[HeldFit]) -> float:
    """Log evidence of a fault lying anywhere: it leaves a reading sound, or makes it anything. While nothing was heard that a sound machine
    does not do, it is one of those that nobody hears."""
    heard = any(p.reading.instrument is Instrument.EYES and f.sound < HEARD_AS_SOUND for p, f in zip(places, fits, strict=True))
    quiet = float(np.log(QUIET_SHARE)) if ensemble.work is Scope.STARTING and not heard else 0.0
    if not places:
        return quiet
    sound = np.array([f.sound for f in fits])
    volts = 1 / (1.1 * ensemble.sheet.system_v)
    anything = np.array([1 / 6 if p.reading.value is None else ANYTHING.get(p.reading.instrument, volts) for p in places])
    figures = np.array([f.fit.figures for f in fits])
    return quiet + float(np.logaddexp(np.log(SOUND_SHARE) + sound, np.log(1 - SOUND_SHARE) + figures * np.log(anything)).sum())


def lying_beside(ensemble: Ensemble, places: Sequence[PlaceRead], fits: Sequence[HeldFit], total: Floats, refined: Floats) -> Floats:
    """Log evidence (hypotheses,) of the same fault beside the part: all readings as the part's own would have them, but sound between its own
    ends. `total` (hypotheses, variants) are the log likelihoods of the first draw, `refined` what drawing anew has added to each.

    Minus infinity for faults that lie beside nothing.
    """
    found = np.full(len(ensemble.hypotheses), -np.inf)
    numbers = ensemble.lost_ways
    rest, sound = total[numbers], np.zeros(len(numbers))
    for place, fit in zip(places, fits, strict=True):
        itself = place.reading.itself
        if itself in ensemble.accusing_first:
            near = np.flatnonzero(np.isin(numbers, ensemble.accusing_first[itself]))
            rest[near] -= fit.fit.log.reshape(total.shape)[numbers[near]]
            sound[near] += fit.sound
    found[numbers] = log_sum(rest, axis=1) - np.log(ensemble.size) + sound + refined[numbers]
    return found
