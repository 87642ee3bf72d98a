"""Practice cases: drawn by number, such as an owner would bring in, of the level that was asked for."""

import pytest

from iron_probe.bay.case import DRAIN, FUSE, Level, draw_case, faults_of
from iron_probe.bay.in_bay import InBay
from iron_probe.machines import load_sheet
from iron_probe.rig.build import peaks_of
from iron_probe.rig.errors import RigError
from iron_probe.rig.spice import Spice


def test_the_same_number_is_the_same_case_and_another_is_another(spice: Spice) -> None:
    cases = [draw_case("green-mower", Level.ONE, number, spice) for number in (3, 3, 4)]
    assert cases[0] == cases[1] != cases[2] and cases[0] is not None
    assert faults_of(cases[0].kept()) == cases[0].faults


@pytest.mark.parametrize(
    ("level", "sheet_id", "count"),
    [(Level.ONE, "training-kart", 1), (Level.TWO, "green-mower", 2), (Level.SOUND, "training-kart", 0), (Level.COMES, "ferry-van", 1), (Level.UNDRAWN, "pool-car", 1)],
)  # fmt: skip
def test_a_level_hides_what_it_says(spice: Spice, level: Level, sheet_id: str, count: int) -> None:
    case = draw_case(sheet_id, level, 3, spice)
    assert case is not None and len(case.faults) == count
    assert all(f.fault.comes for f in case.faults) == (level is Level.COMES) or not case.faults
    if level is Level.TWO:  # each is noticed by itself, or the second would stay in it unseen
        sheet = load_sheet(sheet_id)
        peaks = peaks_of(sheet, spice, list(sheet.states))
        scopes = {InBay(sheet, case.seed, peaks, spice, faults).scope for faults in (list(case.faults), *([f] for f in case.faults))}
        assert len(scopes) == 1 and None not in scopes
    if level is Level.UNDRAWN:
        assert case.faults[0].fault.kind == "undrawn"


@pytest.mark.parametrize(("level", "sheet_id", "symptom"), [(Level.DRAIN, "pool-car", DRAIN), (Level.FUSE, "verge-tractor", FUSE)])
def test_drains_draw_and_fuses_blow(spice: Spice, level: Level, sheet_id: str, symptom: str) -> None:
    case = draw_case(sheet_id, level, 3, spice)
    assert case is not None and case.symptom == symptom
    sheet = load_sheet(sheet_id)
    peaks = peaks_of(sheet, spice, list(sheet.states))
    bay, sound = (InBay(sheet, case.seed, peaks, spice, faults) for faults in (list(case.faults), []))
    if level is Level.DRAIN:
        assert bay.total_a() > sound.total_a() + 0.01
    else:
        assert bay.first_blown() is not None and sound.first_blown() is None


def test_a_fault_that_the_catalogue_lost_is_refused() -> None:
    with pytest.raises(RigError, match="start another"):
        faults_of([{"name": "gone", "element": "x", "severity": 1.0}])
