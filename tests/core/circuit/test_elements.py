"""Every element type says how it fails: one that does not would never be suspected."""

from typing import get_args

import pytest

from iron_probe.core.circuit.element_base import ElementBase
from iron_probe.core.circuit.elements import Conditions, Element
from iron_probe.core.circuit.faults import Around
from iron_probe.machines import load_sheet, sheet_ids

TYPES = get_args(get_args(Element)[0])


@pytest.mark.parametrize("kind", TYPES)
def test_a_type_says_its_faults(kind: type[ElementBase]) -> None:
    assert kind.faults is not ElementBase.faults, f"{kind.__name__} has no fault modes"


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_faults_change_parameters_that_the_element_or_its_points_have(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    for element in sheet.elements:
        faults = element.faults(Around(5.0, lambda positions: True))
        own = {p.name for p in element.parameters(Conditions())}
        assert faults, element.id
        for altered in (a for f in faults for a in f.altered):
            assert altered.parameter in own if not altered.owner else altered.owner in sheet.points


def test_a_wet_battery_freezes_and_a_lithium_one_is_cut_off() -> None:
    def faults(sheet_id: str) -> set[str]:
        return {f.name for f in load_sheet(sheet_id).batteries[0].faults(Around(5.0, lambda positions: True))}

    assert "frozen" in faults("estate-car") and "cut_off" not in faults("estate-car")
    assert "cut_off" in faults("training-kart") and "frozen" not in faults("training-kart")
