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


@pytest.mark.parametrize("output", [{"to": "ground", "fed_by": "ign"}, {"to": "supply", "fed_by": "elsewhere"}])
def test_an_output_is_fed_by_one_of_its_modules_own_feeds(output: dict[str, object]) -> None:
    module = {
        "id": "m", "type": "module", "title": "M", "supply": "s", "ground": "g", "feeds": [{"point": "ign", "draw_a": 0.5}],
        "outputs": [{"name": "out", "point": "p", **output}],
    }  # fmt: skip
    with pytest.raises(ValidationError, match="name one of the module's feeds"):
        Module.model_validate(module)


def test_a_module_draws_from_each_of_its_feeds_and_by_its_own_volts() -> None:
    module = Module.model_validate(
        {
            "id": "m", "type": "module", "title": "M", "supply": "s", "ground": "g", "volts": 24, "draw_a": 2,
            "feeds": [{"point": "ign", "draw_a": 0.5}], "outputs": [{"name": "out", "point": "p", "to": "supply", "fed_by": "ign"}],
        }
    )  # fmt: skip
    ohms = {p.name: p.nominal for p in module.parameters(Conditions())}
    assert ohms["draw_ohm"] == 12 and ohms["feed0_ohm"] == 48
    ends = {b.name: (b.start, b.end) for b in module.branches()}
    assert ends["feed0"] == ("ign", "g") and ends["out"] == ("ign", "p")
