"""What any instrument would show on the machines of an ensemble: those of its first draw, or of strata drawn anew."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.circuit.network import Network
from iron_probe.core.diagnose.altered import bridged, charges, conditioned, forced
from iron_probe.core.diagnose.ensemble import REFINED, Ensemble, Hypothesis
from iron_probe.core.diagnose.evidence import BRIDGES, FORCED, Instrument, Reading
from iron_probe.core.diagnose.likelihood import STEADY, Unsteady, predict, unsteady
from iron_probe.core.diagnose.looks import looked_for
from iron_probe.core.diagnose.new_fuse import holds
from iron_probe.core.diagnose.prediction import Prediction
from iron_probe.core.diagnose.unplugged import ALONE, RowOf, shown_alone
from iron_probe.core.solve.device_tables import MODULE_DROP_SHARE

UNSOLVED = (*ALONE, Instrument.LOOKS, Instrument.NEW_FUSE)
"""Instruments whose reading hangs on no solved state."""
Strata = Sequence[tuple[Hypothesis, int]]
"""Hypotheses, each with the number of a stratum of its severity."""


class Shown(NamedTuple):
    """What an instrument shows (V,): V, A, Ω, Ah or the code of a word; which machines chatter while it does, and where it is no one figure."""

    predicted: Floats
    chatter: Bools
    hints: Unsteady = STEADY


def shown_by(ensemble: Ensemble, reading: Reading, some: Strata | None = None, solved: Prediction | None = None) -> Shown:
    """What a reading would be on the first draw, or on `some` strata, their state being `solved` where the reading hangs on one; ReadingError for one
    that cannot be predicted."""
    network, kind = ensemble.network, reading.instrument
    of, each = (ensemble.hypotheses, ensemble.size) if some is None else ([h for h, _ in some], REFINED)
    if kind is Instrument.LOOKS:
        return _steadily(looked_for(of, reading.branch or "", each))
    if kind is Instrument.NEW_FUSE:
        return _steadily(holds(network, of, reading.branch or "", reading.state, each))
    if kind in ALONE:
        return _steadily(shown_alone(network, reading, _rows(ensemble, some)))
    if kind in FORCED:
        posts_v = _first_forced(ensemble, reading) if some is None else forced(network, reading, _values(ensemble, some))
        return _steadily(charges(posts_v, ensemble.sheet.system_v) if reading.value is None else posts_v)
    if kind in BRIDGES:
        return Shown(*bridged(network, reading, _values(ensemble, some)))
    if reading.conditioned:
        altered, prediction = conditioned(network, reading, _values(ensemble, some))
        return Shown(predict(reading, altered, prediction), prediction.chatter, unsteady(reading, altered, prediction))
    prediction = solved or ensemble.first(reading.state)
    if kind is Instrument.ANSWERS:
        return Shown(answering(network, reading, prediction, _rows(ensemble, some)), prediction.chatter)
    return Shown(predict(reading, network, prediction), prediction.chatter, unsteady(reading, network, prediction))


def shown_first(ensemble: Ensemble, reading: Reading, which: NDArray[np.int64]) -> Floats:
    """What the instrument shows on some variants of the first draw, by their numbers; ReadingError as above."""
    if reading.instrument in (*UNSOLVED, *FORCED, *BRIDGES, Instrument.ANSWERS) or reading.conditioned:
        return shown_by(ensemble, reading).predicted[which]
    return predict(reading, ensemble.network, ensemble.first(reading.state), which)


def answering(network: Network, reading: Reading, prediction: Prediction, rows: RowOf) -> Floats:
    """Whether a module answers (V,), 0 or 1: it has its supply against its ground, and is not dead."""
    unit = next(u for u in network.units if u.element.id == reading.branch)
    supply_v = prediction.volts[unit.supply].astype(float) - prediction.volts[unit.ground]
    return ((supply_v >= unit.element.alive_above_v * MODULE_DROP_SHARE) & (rows(unit.dead) == 0)).astype(float)


def _steadily(predicted: Floats) -> Shown:
    return Shown(predicted, np.zeros(len(predicted), dtype=bool))


def _rows(ensemble: Ensemble, some: Strata | None) -> RowOf:
    return ensemble.first_row if some is None else _values(ensemble, some).__getitem__


def _values(ensemble: Ensemble, some: Strata | None) -> Floats:
    if some is None:
        return ensemble.first_values()
    return np.concatenate([ensemble.values_of(h, s) for h, s in some], axis=1)


def _first_forced(ensemble: Ensemble, reading: Reading) -> Floats:
    """Volts at the posts of a forced test on the whole first draw, solved once."""
    key = (reading.instrument.value, reading.branch or "", reading.state)
    if key not in ensemble.forced_v:
        ensemble.forced_v[key] = forced(ensemble.network, reading, ensemble.first_values())
    return ensemble.forced_v[key]
