import numpy as np
import pytest

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.machines import load_sheet
from iron_probe.rig.build import machine_of, peaks_of
from iron_probe.rig.catalogue import CatalogueFault, catalogue, draw_fault, put_in
from iron_probe.rig.errors import RigError
from iron_probe.rig.spice import Spice


@pytest.fixture(scope="module")
def car() -> Sheet:
    return load_sheet("pool-car")


def test_names_are_unique_and_every_fault_can_sit_somewhere(car: Sheet) -> None:
    names = [f.name for f in catalogue()]
    assert len(names) == len(set(names))
    types = {e.type for i in ("pool-car", "fire-tender", "green-mower", "quay-digger") for e in load_sheet(i).elements}
    assert all(set(f.sits_on) & (types | {"breaker", "diode"}) for f in catalogue())


@pytest.mark.parametrize("name", [f.name for f in catalogue()])
def test_every_fault_changes_the_machine(name: str, spice: Spice) -> None:
    fault = next(f for f in catalogue() if f.name == name)
    for sheet_id in ("pool-car", "fire-tender", "green-mower", "parcel-van", "quay-digger"):
        sheet = load_sheet(sheet_id)
        peaks = peaks_of(sheet, spice, list(sheet.states))
        try:
            machine = machine_of(sheet)
            before = repr((machine.values, machine.blocks, machine.bypasses))
            hidden = draw_fault(machine, peaks, np.random.default_rng(3), only=fault.name)
        except RigError:
            continue
        put_in(machine, hidden, peaks, np.random.default_rng(3))
        assert repr((machine.values, machine.blocks, machine.bypasses)) != before
        return
    assert not {"diode"}.isdisjoint(fault.sits_on), f"{name} was tried nowhere"


def test_a_loss_is_measured_at_what_the_part_carries(car: Sheet, spice: Spice) -> None:
    peaks = peaks_of(car, spice, ["crank"])
    machine = machine_of(car)
    hidden = draw_fault(machine, peaks, np.random.default_rng(5), only="lossy_cable")
    before = machine.values[hidden.element]["ohm"]
    put_in(machine, hidden, peaks, np.random.default_rng(5))
    added = machine.values[hidden.element]["ohm"] - before
    assert added * peaks[hidden.element] == pytest.approx(hidden.severity)


def test_a_class_without_a_place_is_refused(spice: Spice) -> None:
    kart = load_sheet("training-kart")
    with pytest.raises(RigError, match="no place"):
        draw_fault(machine_of(kart), {}, np.random.default_rng(1), kind="charging")


def test_a_fault_that_says_two_things_is_refused() -> None:
    with pytest.raises(ValueError, match="in one way"):
        CatalogueFault.model_validate(
            {
                "name": "x",
                "class": "x",
                "sits_on": ["joint"],
                "chance": 1,
                "does": {"value": "ohm", "times": [1, 2], "becomes": 3},
                "story": "x",
            }
        )
