import numpy as np
import pytest

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.machines import load_sheet
from iron_probe.rig.build import machine_of
from iron_probe.rig.catalogue import CatalogueFault, catalogue, draw_fault, may_sit, special_ways
from iron_probe.rig.errors import RigError


@pytest.fixture(scope="module")
def car() -> Sheet:
    return load_sheet("pool-car")


def test_names_are_unique_and_every_fault_can_sit_somewhere(car: Sheet) -> None:
    names = [f.name for f in catalogue()]
    assert len(names) == len(set(names))
    types = {e.type for i in ("pool-car", "fire-tender", "green-mower", "quay-digger") for e in load_sheet(i).elements}
    assert all(set(f.sits_on) & (types | {"breaker", "diode", "stator"}) for f in catalogue())


@pytest.mark.parametrize(
    ("along", "sheet_id", "ways"),
    [
        ("bus", "parcel-van", {"bus-wire", "bus-splice", "fan-bus-wire", "dash-bus-wire"}),
        ("stator", "green-mower", {"stator-pin-1", "stator-pin-2"}),
    ],
)
def test_faults_of_a_bus_or_a_stator_sit_along_it_and_others_nowhere_there(along: str, sheet_id: str, ways: set[str]) -> None:
    sheet = load_sheet(sheet_id)
    special = special_ways(sheet)
    assert special[along] == ways
    carries = {e.id: 1.0 for e in sheet.elements}
    for fault in catalogue():
        seats = {e.id for e in sheet.elements if may_sit(fault, e, carries, special)}
        assert seats <= ways if fault.along == along else not seats & ways
    assert special_ways(load_sheet("pool-car")) == {"bus": frozenset(), "stator": frozenset()}


def test_only_a_battery_with_a_protection_is_cut_off() -> None:
    fault = next(f for f in catalogue() if f.name == "cut_off")
    battery = load_sheet("pool-car").batteries[0]
    assert not may_sit(fault, battery, {}, {})
    assert may_sit(fault, battery.model_copy(update={"chemistry": "lifepo4"}), {}, {})


def test_a_class_without_a_place_is_refused() -> None:
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
