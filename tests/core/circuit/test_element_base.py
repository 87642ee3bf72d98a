"""What every kind of element owes the circuit."""

import pytest

from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.machines import load_sheet, sheet_ids

EVERY = {e.type: (s, e) for s in sheet_ids() for e in load_sheet(s).elements}


@pytest.mark.parametrize("kind", sorted(EVERY))
def test_a_kind_has_branches_between_its_points_and_parameters_for_them(kind: str) -> None:
    sheet_id, element = EVERY[kind]
    sheet: Sheet = load_sheet(sheet_id)
    points = set(element.points())
    assert points <= set(sheet.points)
    names = {p.name for p in element.parameters(Conditions())}
    for branch in element.branches():
        assert {branch.start, branch.end} <= points | set(sheet.points)
        assert branch.value in names or not branch.value
