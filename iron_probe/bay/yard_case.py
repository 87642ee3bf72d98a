"""A practice case made from a closed job of the yard: a fault of the part that was repaired there, complained of in the same way."""

from collections.abc import Sequence

import numpy as np

from iron_probe.bay.case import DRAIN, FUSE, Level, PracticeCase, comes_in, first_noticed
from iron_probe.bay.in_bay import InBay
from iron_probe.bay.sound import sound_peaks
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.rig.catalogue import HiddenFault, catalogue, drawn, may_sit, special_ways
from iron_probe.rig.spice import Spice


def case_like(sheet: Sheet, repaired: Sequence[str], symptom: str, number: int, spice: Spice) -> PracticeCase | None:
    """A case on a job's `sheet`, by its `number`: a fault of the catalogue on one of the parts `repaired` there, with the same `symptom`; None where none of
    theirs is complained of so. Its figures are not those of the job."""
    rng = np.random.default_rng((number, list(Level).index(Level.YARD)))
    peaks, special = sound_peaks(sheet, spice), special_ways(sheet)
    places = [(f, part) for part in repaired for f in catalogue() if may_sit(f, sheet.element(part), peaks, special)]
    if not places:
        return None

    def draw() -> HiddenFault:
        fault, part = places[int(rng.integers(len(places)))]
        return HiddenFault(fault, part, drawn(fault.does.severity(), rng))

    def alike(bay: InBay) -> bool:
        return comes_in(bay, symptom) if symptom in (DRAIN, FUSE) else bay.symptom == symptom

    bay = first_noticed(sheet, number, spice, draw, alike)
    return None if bay is None else PracticeCase(Level.YARD, sheet.id, number, bay.seed, symptom, tuple(bay.faults))
