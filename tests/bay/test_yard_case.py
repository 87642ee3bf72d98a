"""A case made from a job: the part that was repaired, the same complaint, the same for everybody."""

from iron_probe.bay.case import Level
from iron_probe.bay.in_bay import InBay
from iron_probe.bay.yard_case import case_like
from iron_probe.machines import load_sheet
from iron_probe.rig.build import peaks_of
from iron_probe.rig.spice import Spice

MOWER = load_sheet("green-mower")


def test_a_fault_of_the_repaired_part_with_the_same_complaint(spice: Spice) -> None:
    starter = next(e.id for e in MOWER.elements if e.type == "starter")
    case = case_like(MOWER, [starter], "no_turn", 104, spice) or case_like(MOWER, [starter], "slow", 104, spice)
    assert case is not None and case.level is Level.YARD and [f.element for f in case.faults] == [starter]
    again = case_like(MOWER, [starter], case.symptom, 104, spice)
    assert again == case
    bay = InBay(MOWER, case.seed, peaks_of(MOWER, spice, list(MOWER.states)), spice, list(case.faults))
    assert bay.symptom == case.symptom


def test_a_part_that_is_never_complained_of_so_makes_no_case(spice: Spice) -> None:
    starter = next(e.id for e in MOWER.elements if e.type == "starter")
    assert case_like(MOWER, [starter], "drain", 104, spice) is None and case_like(MOWER, [], "slow", 104, spice) is None
