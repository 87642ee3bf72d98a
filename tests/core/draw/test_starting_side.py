"""The side of a sheet that starting work draws."""

import pytest

from iron_probe.core.circuit.elements import Alternator, Rectifier
from iron_probe.core.draw.starting_side import starting_side
from iron_probe.core.whole_sheet import read_whole_sheet
from iron_probe.machines import load_sheet, sheet_ids
from tests.odd_sheets import odd_sheets


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_charging_parts_go_and_no_wire_is_left_hanging(sheet_id: str) -> None:
    side = starting_side(load_sheet(sheet_id))
    assert not [e for e in side.elements if isinstance(e, Alternator | Rectifier)]
    ends = [p for e in side.elements for p in e.points()]
    assert set(ends) <= set(side.points)


@pytest.mark.parametrize("name", odd_sheets())
def test_an_odd_sheet_has_a_side_too(name: str) -> None:
    sheet = read_whole_sheet(odd_sheets()[name])
    assert starting_side(sheet).elements
