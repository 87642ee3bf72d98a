"""A fault that the drawing does not show: beside a drawn part, or anywhere at all."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats
from iron_probe.core.diagnose.ensemble import QUIET_SHARE, Ensemble
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.diagnose.fits import HeldFit, log_sum
from iron_probe.core.diagnose.likelihood import STEADY, fit_one
from iron_probe.core.diagnose.places import PlaceRead
from iron_probe.core.diagnose.scope import Scope

ANYWHERE_PRIOR, BESIDE_PRIOR = 0.015, 0.05
"""Chance beforehand that the fault lies anywhere off the drawing, and that it is a joint at the end of a drawn conductor which the drawing
lacks (common practice, no source)."""
ASSUMED_TIMES = 2.0
"""How many times likelier something undrawn lies beside a part that is only assumed: a drawing of it from memory leaves out plugs and joints
(chosen here)."""
GROUND_SHARE = 0.2
"""How often a way to ground lies beside a part, against how often a joint does (common practice, no source)."""
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
    """Log evidence (hypotheses,) of the same fault beside the part: all readings as the part's own would have them, but those on the part alone as a
    sound part has them, with the current that then flows. `total` (hypotheses, variants) are the log likelihoods of the first draw, `refined`
    what drawing anew has added to each.

    Minus infinity for faults that lie beside nothing.
    """
    found = np.full(len(ensemble.hypotheses), -np.inf)
    numbers = ensemble.also_beside
    rest = total[numbers]
    for place, fit in zip(places, fits, strict=True):
        alone = place.reading.on_part
        if alone in ensemble.accusing_first:
            near = np.flatnonzero(np.isin(numbers, ensemble.accusing_first[alone]))
            as_sound = (
                _sound_itself(ensemble, place, numbers[near]) if place.reading.itself and not place.reading.conditioned else fit.sound
            )
            rest[near] += as_sound - fit.fit.log.reshape(total.shape)[numbers[near]]
    found[numbers] = log_sum(rest, axis=1) - np.log(ensemble.size) + refined[numbers]
    found[ensemble.to_ground] += np.log(GROUND_SHARE)
    found[ensemble.on_assumed] += np.log(ASSUMED_TIMES)
    return found


def rests_on(places: Sequence[PlaceRead], fits: Sequence[HeldFit], number: int) -> PlaceRead | None:
    """The place whose figure speaks most for a hypothesis against a sound machine, of those that are not on its part alone; None where none does."""
    speaking = [
        (float(f.per[number]) - f.sound, k)
        for k, (p, f) in enumerate(zip(places, fits, strict=True))
        if p.reading.value is not None and p.reading.on_part is None
    ]
    most, at = max(speaking, default=(0.0, 0))
    return places[at] if most > 0 else None


def _sound_itself(ensemble: Ensemble, place: PlaceRead, numbers: NDArray[np.int64]) -> Floats:
    """Log likelihood (some hypotheses, variants) of volts between a part's own ends where what they say is wrong lies beside it: the part is sound,
    and carries what then flows."""
    reading, network = place.reading, ensemble.network
    branch = next(
        n
        for n, b in enumerate(network.branches)
        if {b.start, b.end} == {reading.red, reading.black} and network.owners[n].id == reading.itself
    )
    which = (numbers[:, None] * ensemble.size + np.arange(ensemble.size)).ravel()
    amps = ensemble.first(reading.state).amps[branch, which].astype(float)
    drop_v = amps * network.nominal[network.value[branch]] * (1 if reading.red == network.branches[branch].start else -1)
    chatter = ensemble.first(reading.state).chatter[which].astype(float)
    fit = fit_one(reading, place.values, drop_v, chatter, network.sheet.system_v, STEADY, place.again)
    return fit.log.reshape(len(numbers), ensemble.size)
