"""What any instrument would show on the machines of an ensemble's first draw."""

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats
from iron_probe.core.diagnose.altered import charges, forced
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import FORCED, Instrument, Reading
from iron_probe.core.diagnose.likelihood import predict
from iron_probe.core.diagnose.looks import looked_for
from iron_probe.core.diagnose.unplugged import ALONE, shown_alone


def shown_first(ensemble: Ensemble, reading: Reading, which: NDArray[np.int64]) -> Floats:
    """What the instrument shows on some variants of the first draw (numbers of `which`): V, A, Ω, Ah or the code of a word. ReadingError for a
    reading that cannot be taken there."""
    if reading.instrument is Instrument.LOOKS:
        return looked_for(ensemble.hypotheses, reading.branch or "", ensemble.size)[which]
    if reading.instrument in ALONE:
        return shown_alone(ensemble.network, reading, ensemble.first_row)[which]
    if reading.instrument in FORCED:
        posts_v = first_forced(ensemble, reading)[which]
        return charges(posts_v, ensemble.sheet.system_v) if reading.value is None else posts_v
    return predict(reading, ensemble.network, ensemble.first(reading.state), which)


def first_forced(ensemble: Ensemble, reading: Reading) -> Floats:
    """Volts at the posts of a forced test on the whole first draw, solved once."""
    key = (reading.instrument.value, reading.branch or "", reading.state)
    if key not in ensemble.forced_v:
        ensemble.forced_v[key] = forced(ensemble.network, reading, ensemble.first_values())
    return ensemble.forced_v[key]
