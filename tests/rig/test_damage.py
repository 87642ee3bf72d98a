from math import inf

import numpy as np
import pytest

from iron_probe.core.circuit.elements import TwoPole
from iron_probe.machines import load_sheet
from iron_probe.rig.build import machine_of, peaks_of
from iron_probe.rig.catalogue import HiddenFault, catalogue, draw_fault
from iron_probe.rig.damage import UNDRAWN, put_in
from iron_probe.rig.errors import RigError
from iron_probe.rig.machine import BroughtBy, Machine
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice

SHEETS = ("pool-car", "fire-tender", "green-mower", "parcel-van", "quay-digger", "training-kart")


def hide(spice: Spice, name: str, sheet_id: str = "pool-car", element: str | None = None, severity: float | None = None) -> Machine:
    """That machine with that fault; on that element, so bad, where it is said."""
    machine = machine_of(load_sheet(sheet_id))
    rng = np.random.default_rng(5)
    peaks = peaks_of(machine.sheet, spice, list(machine.sheet.states))
    hidden = draw_fault(machine, peaks, rng, only=name)
    put_in(machine, HiddenFault(hidden.fault, element or hidden.element, severity or hidden.severity), peaks, rng)
    return machine


@pytest.mark.parametrize("name", [f.name for f in catalogue()])
def test_every_fault_changes_the_machine(name: str, spice: Spice) -> None:
    def said(machine: Machine) -> str:
        return repr((machine.values, machine.blocks, machine.bypasses, machine.comes))

    for sheet_id in SHEETS:
        try:
            machine = hide(spice, name, sheet_id)
        except RigError:
            continue
        assert said(machine) != said(machine_of(load_sheet(sheet_id)))
        return
    fault = next(f for f in catalogue() if f.name == name)
    assert "diode" in fault.sits_on, f"{name} was tried nowhere"


def test_a_loss_is_measured_at_what_the_part_carries(spice: Spice) -> None:
    sound = machine_of(load_sheet("pool-car"))
    peak = peaks_of(sound.sheet, spice, list(sound.sheet.states))["strap-body"]
    machine = hide(spice, "lossy_ground", element="strap-body", severity=2.0)
    assert (machine.values["strap-body"]["ohm"] - sound.values["strap-body"]["ohm"]) * peak == pytest.approx(2.0)


def test_an_undrawn_joint_stands_between_a_wire_and_the_point_it_is_drawn_to(spice: Spice) -> None:
    machine = hide(spice, "undrawn_joint", element="key-feed", severity=4.0)
    wire, joint = machine.sheet.element("key-feed"), machine.sheet.element(UNDRAWN)
    drawn = load_sheet("pool-car").element("key-feed")
    assert isinstance(wire, TwoPole) and isinstance(joint, TwoPole) and isinstance(drawn, TwoPole)
    assert (wire.end, joint.end) == (joint.start, drawn.end)
    plant = Plant(machine, spice)
    plant.go("crank")
    assert plant.between(joint.start, joint.end).value > 0.3


def test_what_comes_and_goes_is_held_with_its_state_and_moved_by_a_hand(spice: Spice) -> None:
    machine = hide(spice, "moved_joint", element="s-plug")
    plant = Plant(machine, spice, np.random.default_rng(1))
    met = set()
    for _ in range(12):
        plant.go("run")
        before = machine.values["s-plug"]["ohm"]
        plant.go("run")
        assert machine.values["s-plug"]["ohm"] == before  # held
        plant.go("rest")
        met.add(before)
    assert len(met) == 2
    plant.go("run")
    before = machine.values["s-plug"]["ohm"]
    plant.bring(BroughtBy.HEAT)
    assert machine.values["s-plug"]["ohm"] == before
    plant.bring(BroughtBy.TOUCH, "s-plug")
    assert machine.values["s-plug"]["ohm"] != before


def test_a_fuse_too_small_blows_under_its_own_load(spice: Spice) -> None:
    plant = Plant(hide(spice, "wrong_fuse", element="f6", severity=0.05), spice)
    plant.go("lamps")
    assert plant.devices.blown.get("f6")


@pytest.mark.parametrize(("name", "sheet_id"), [("frozen", "pool-car"), ("sulphated", "pool-car")])
def test_a_spoilt_battery_does_not_crank(spice: Spice, name: str, sheet_id: str) -> None:
    plant = Plant(hide(spice, name, sheet_id), spice)
    plant.go("crank")
    assert plant.heard().value != "cranks"


def test_a_bus_shorted_to_minus_leaves_the_machine_at_its_default_volts(spice: Spice) -> None:
    sound, silent = (Plant(m, spice) for m in (machine_of(load_sheet("parcel-van")), hide(spice, "bus_to_minus", "parcel-van")))
    volts = []
    for plant in (sound, silent):
        plant.go("fast")
        volts.append(plant.between("bat.plus", "bat.minus").value)
    assert volts[0] - volts[1] == pytest.approx(0.5, abs=0.2)
    assert inf not in volts
