import pytest

from iron_probe.core.circuit.ampacity import cable_carries_a, overload
from iron_probe.core.circuit.elements import Conductor, Fuse, Joint
from iron_probe.core.whole_sheet import overloads
from iron_probe.machines import load_sheet, sheet_ids

WIRE = Conductor.model_validate({"id": "w", "type": "wire", "title": "Wire", "from": "a", "to": "b", "mm2": 1.5, "length_m": 1})
FUSE = Fuse.model_validate({"id": "f", "type": "fuse", "title": "Fuse", "from": "a", "to": "b", "rating_a": 10})
JOINT = Joint.model_validate({"id": "j", "type": "joint", "title": "Joint", "from": "a", "to": "b"})


def test_between_sizes_lies_between_their_currents() -> None:
    assert cable_carries_a(1.5) == pytest.approx(18)
    assert 18 < cable_carries_a(2.0) < 25
    assert cable_carries_a(0.2) < 5
    assert cable_carries_a(150) > 290


def test_too_much_is_named_and_a_crank_may_do_more() -> None:
    found = overload(WIRE, -20.0, cranking=False)
    assert found is not None and (found.amps, found.allowed_a) == (20.0, pytest.approx(18))
    assert overload(WIRE, 20.0, cranking=True) is None
    assert overload(FUSE, 9.5, cranking=False) is not None
    assert overload(FUSE, 8.5, cranking=False) is None
    assert overload(JOINT, 500.0, cranking=False) is None


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_shipped_sheets_are_sized_for_what_they_carry(sheet_id: str) -> None:
    assert overloads(load_sheet(sheet_id)) == []
