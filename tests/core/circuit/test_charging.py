"""Charging elements say their branches, what they refer to, and how they fail."""

import pytest

from iron_probe.core.circuit.elements import Alternator, Conditions, FieldRegulator, Rectifier, Stator
from iron_probe.machines import load_sheet, sheet_ids

MAKERS = [(s, e) for s in sheet_ids() for e in load_sheet(s).elements if isinstance(e, Alternator | FieldRegulator | Rectifier | Stator)]


@pytest.mark.parametrize(("sheet_id", "element"), MAKERS, ids=[f"{s}-{e.id}" for s, e in MAKERS])
def test_every_reference_is_on_its_sheet_and_every_parameter_is_a_figure(sheet_id: str, element: Alternator) -> None:
    known = {e.id for e in load_sheet(sheet_id).elements}
    assert {r for r in element.refers_to() if r} <= known
    parameters = element.parameters(Conditions())
    assert all(p.spread >= 0 for p in parameters) and len({p.name for p in parameters}) == len(parameters)


def test_a_regulator_sets_less_in_the_heat() -> None:
    alternator = next(e for e in load_sheet("pool-car").elements if isinstance(e, Alternator))

    def set_v(degc: float) -> float:
        return next(p.nominal for p in alternator.parameters(Conditions(temp_degc=degc)) if p.name == "set_v")

    assert set_v(-10) > set_v(20) > set_v(60)
