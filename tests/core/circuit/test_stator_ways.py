import numpy as np
import pytest

from iron_probe.core.circuit.elements import Rectifier
from iron_probe.core.circuit.stator_ways import ac_amps, brought, joined_by_wire, stator_ways, uneven_ripple
from iron_probe.machines import load_sheet


def rectifier_of(sheet_id: str) -> Rectifier:
    return next(e for e in load_sheet(sheet_id).elements if isinstance(e, Rectifier))


def test_each_phase_passes_its_own_pin() -> None:
    sheet = load_sheet("patrol-motorcycle")
    assert stator_ways(sheet, rectifier_of("patrol-motorcycle")) == (("stator-pin-1",), ("stator-pin-2",), ("stator-pin-3",))
    assert stator_ways(load_sheet("piste-sled"), rectifier_of("piste-sled")) == ((), (), ())
    assert ac_amps(sheet)["stator-pin-2"] == pytest.approx(24)
    assert ac_amps(load_sheet("pool-car")) == {}


def test_pins_that_are_not_joined_are_told() -> None:
    sheet, rectifier = load_sheet("patrol-motorcycle"), rectifier_of("patrol-motorcycle")
    assert joined_by_wire(sheet, rectifier)
    for ac in (("rect.1", "rect.2"), ("rect.1", "rect.1", "rect.3"), ("rect.1", "rect.2", "key.in"), ("rect.1", "rect.2", "nowhere")):
        assert not joined_by_wire(sheet, rectifier.model_copy(update={"ac": ac}))


def test_one_wire_gone_leaves_three_phases_half_and_a_single_winding_nothing() -> None:
    def share(sheet_id: str, *ohms: float) -> float:
        return float(brought(rectifier_of(sheet_id), [np.array([o]) for o in ohms])[0])

    assert share("patrol-motorcycle", 0, 0, 0) == 1
    assert share("patrol-motorcycle", 1e13, 0, 0) == pytest.approx(0.5)
    assert share("patrol-motorcycle", 1e13, 1e13, 0) < 1e-9
    assert 0.5 < share("patrol-motorcycle", 2, 0, 0) < share("patrol-motorcycle", 0.5, 0, 0) < 1
    assert share("green-mower", 0, 1e13) < 1e-9
    assert share("green-mower", 0, 0) == 1


def test_wires_that_are_all_alike_make_no_ripple_and_one_of_a_single_winding_none() -> None:
    ohms = [np.array([o]) for o in (2.0, 2.0, 2.0)]
    assert uneven_ripple(rectifier_of("patrol-motorcycle"), ohms)[0] == pytest.approx(1)
    assert uneven_ripple(rectifier_of("patrol-motorcycle"), [ohms[0], np.zeros(1), np.zeros(1)])[0] > 3
    assert uneven_ripple(rectifier_of("green-mower"), [ohms[0], np.zeros(1)])[0] == 1
