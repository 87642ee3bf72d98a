from math import inf

import pytest

from iron_probe.core.circuit.elements import Rectifier
from iron_probe.machines import load_sheet
from iron_probe.rig.bridge import bridge_beside_sound
from iron_probe.rig.build import machine_of
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice


def beside(spice: Spice, sheet_id: str, rpm: float, **changed: float) -> tuple[float, float]:
    """Amps and ripple of that machine's bridge beside a sound one, with values `element__name` changed."""
    machine = machine_of(load_sheet(sheet_id))
    for key, value in changed.items():
        element, name = key.split("__")
        machine.values[element.replace("_", "-")][name] = value
    rectifier = next(e for e in machine.sheet.elements if isinstance(e, Rectifier))
    return bridge_beside_sound(machine, rectifier, rpm, spice)


@pytest.mark.parametrize("sheet_id", ["patrol-motorcycle", "piste-sled", "green-mower"])
def test_a_sound_bridge_is_beside_itself_and_one_that_stands_still_is_not_asked(spice: Spice, sheet_id: str) -> None:
    share, ripple = beside(spice, sheet_id, 3000)
    assert share == pytest.approx(1, abs=0.03)
    assert ripple == pytest.approx(1, abs=0.2)
    assert beside(spice, sheet_id, 0) == (1, 1)


def test_what_is_lost_with_a_phase_a_diode_or_a_plug(spice: Spice) -> None:
    for change in ({"stator__w1_ohm": inf}, {"stator_pin_2__ohm": inf}):
        share, ripple = beside(spice, "patrol-motorcycle", 3000, **change)
        assert 0.4 < share < 0.65
        assert ripple > 3
    share, ripple = beside(spice, "patrol-motorcycle", 3000, rectifier__d1p=-1)
    assert 0.6 < share < 0.95 and ripple > 3
    assert beside(spice, "patrol-motorcycle", 3000, rectifier__d1p=1)[0] < 0.6
    assert 0.5 < beside(spice, "patrol-motorcycle", 3000, stator_pin_1__ohm=2)[0] < 0.95


def test_a_single_winding_needs_both_its_wires(spice: Spice) -> None:
    assert beside(spice, "green-mower", 3000, stator_pin_1__ohm=inf)[0] < 0.05
    assert beside(spice, "green-mower", 3000, stator__w1_ohm=inf)[0] < 0.05
    assert beside(spice, "green-mower", 3000, rectifier__d2n=-1)[0] == pytest.approx(0.5, abs=0.1)


def test_two_diodes_through_are_a_way_to_minus_at_rest(spice: Spice) -> None:
    machine = machine_of(load_sheet("patrol-motorcycle"))
    plant = Plant(machine, spice)
    plant.go("rest")
    assert plant.amps("charge-wire").value == pytest.approx(0, abs=1e-3)
    machine.values["rectifier"] |= {"d1p": 1, "d1n": 1}
    plant.changed()
    assert plant.devices.blown.get("charge-fuse") or abs(plant.amps("charge-wire").value) > 20
