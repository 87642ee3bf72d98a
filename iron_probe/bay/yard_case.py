"""A practice case made from a closed job of the yard: a fault of the part that was repaired there, complained of in the same way."""

from collections import Counter
from collections.abc import Sequence

import numpy as np

from iron_probe.bay.case import DRAIN, FUSE, OF_ONE, TRIES, Level, PracticeCase, comes_in
from iron_probe.bay.in_bay import InBay
from iron_probe.bay.sound import sound_peaks
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.rig.catalogue import HiddenFault, catalogue, drawn, may_sit, special_ways
from iron_probe.rig.errors import RigError
from iron_probe.rig.spice import Spice


def case_like(sheet: Sheet, repaired: Sequence[str], symptom: str, number: int, spice: Spice) -> PracticeCase | None:
    """A case on a job's `sheet`, by its `number`: a fault of the catalogue on one of the parts `repaired` there, with the same `symptom`; None where none of
    theirs is complained of so. Its figures are not those of the job."""
    rng = np.random.default_rng((number, list(Level).index(Level.YARD)))
    peaks, special = sound_peaks(sheet, spice), special_ways(sheet)
    places = [(f, part) for part in repaired for f in catalogue() if may_sit(f, sheet.element(part), peaks, special)]
    tried = Counter[tuple[str, str]]()
    for turn in range(TRIES if places else 0):
        fault, part = places[int(rng.integers(len(places)))]
        tried[fault.name, part] += 1
        if tried[fault.name, part] > OF_ONE:
            continue
        hidden = HiddenFault(fault, part, drawn(fault.does.severity(), rng))
        try:
            bay = InBay(sheet, number + 1000 * turn, peaks, spice, [hidden])
            alike = comes_in(bay, symptom) if symptom in (DRAIN, FUSE) else bay.symptom == symptom
        except RigError:
            continue
        if alike:
            return PracticeCase(Level.YARD, sheet.id, number, bay.seed, symptom, (hidden,))
    return None
