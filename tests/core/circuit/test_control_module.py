"""Control modules: what they must see, and how they fail."""

import pytest
from pydantic import ValidationError

from iron_probe.core.circuit.control_module import Input
from iron_probe.core.circuit.elements import Conditions, Module
from iron_probe.machines import load_sheet, sheet_ids

MODULES = [(s, e) for s in sheet_ids() for e in load_sheet(s).elements if isinstance(e, Module)]


@pytest.mark.parametrize("given", [{"point": "a"}, {"point": "a", "above_v": 5.0, "below_v": 1.0}])
def test_an_input_has_one_limit(given: dict[str, object]) -> None:
    with pytest.raises(ValidationError, match="either above_v or below_v"):
        Input.model_validate(given)


@pytest.mark.parametrize(("sheet_id", "module"), MODULES, ids=[f"{s}-{m.id}" for s, m in MODULES])
def test_every_driver_is_a_branch_from_its_supply_or_ground(sheet_id: str, module: Module) -> None:
    names = {b.name for b in module.branches()}
    assert {o.name for o in module.outputs} <= names
    assert all(p.nominal > 0 for p in module.parameters(Conditions()) if p.name.endswith("_ohm"))
