"""Strata that hold nothing of the evidence until they are drawn anew: what was read lies between two of their variants."""

import numpy as np
import pytest

from iron_probe.core.diagnose.between import MOST_BETWEEN, strata_between
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Reading


@pytest.mark.parametrize("gap", [3, 20, 40])
def test_a_reading_between_two_neighbours_is_looked_for_in_their_strata(ensemble: Ensemble, gap: int) -> None:
    number = next(
        k
        for k, h in enumerate(ensemble.hypotheses)
        if h.modes and (h.modes[0].element, h.modes[0].name) == ("frame-bolt", "high_resistance")
    )
    sheet = ensemble.sheet
    bolt = sheet.element("frame-bolt").points()
    volts = ensemble.first("crank").volts
    points = list(ensemble.network.points)
    drop = (volts[points.index(bolt[0])] - volts[points.index(bolt[1])]).reshape(-1, ensemble.size)[number]
    between = float(drop[gap] + drop[gap + 1]) / 2
    case = Case(ensemble)
    read = case._hold([Reading(red=bolt[0], black=bolt[1], state="crank", value=between, resolution=0.001)])
    found = strata_between(ensemble, read, np.log(ensemble.weight / ensemble.weight.sum()))
    assert len(found) == MOST_BETWEEN and all(ensemble.hypotheses[k].graded for k, _ in found)
    assert {s for k, s in found if k == number} & {gap // 8, (gap + 1) // 8}
