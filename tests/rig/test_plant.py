from collections.abc import Callable
from math import inf

import pytest

from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.rig.block import Block
from iron_probe.rig.build import machine_of
from iron_probe.rig.machine import Bypass, Machine
from iron_probe.rig.meters import part_ohm
from iron_probe.rig.plant import Heard, Plant
from iron_probe.rig.spice import Spice

Made = Callable[..., Plant]


@pytest.fixture
def car(spice: Spice) -> Made:
    def made(change: Callable[[Machine], object] | None = None, sheet_id: str = "pool-car", temp_degc: float = 20.0) -> Plant:
        machine = machine_of(load_sheet(sheet_id), temp_degc)
        if change:
            change(machine)
        return Plant(machine, spice)

    return made


def cranked(plant: Plant) -> Heard:
    plant.go(plant.machine.sheet.cranking_state() or "")
    return plant.heard()


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_every_sound_machine_cranks_and_charges(car: Made, sheet_id: str) -> None:
    plant = car(sheet_id=sheet_id)
    sheet = plant.machine.sheet
    if sheet.cranking_state():
        plant.go(next(iter(sheet.states)))
        rest_v = plant.between(sheet.plus, sheet.minus).value
        assert cranked(plant) is Heard.CRANKS
        assert 0.7 < plant.between(sheet.plus, sheet.minus).value / rest_v < 0.97


def set_value(element: str, name: str, value: float) -> Callable[[Machine], object]:
    return lambda machine: machine.values[element].__setitem__(name, value)


@pytest.mark.parametrize(
    ("element", "name", "value", "heard"),
    [
        ("start-relay", "coil_ohm", inf, Heard.NOTHING),
        ("solenoid", "hold_ohm", inf, Heard.NOTHING),
        ("solenoid", "stuck", -1.0, Heard.CLICK),
        ("starter", "load_a", 420.0, Heard.SLOW),
        ("strap-body", "ohm", inf, Heard.CLICK),
    ],
)
def test_what_one_fault_sounds_like(car: Made, element: str, name: str, value: float, heard: Heard) -> None:
    found = cranked(car(set_value(element, name, value)))
    if (element, name) == ("solenoid", "hold_ohm"):
        assert found is not Heard.CRANKS  # the pull-in winding alone is too weak, or falls out at once
    elif element == "strap-body":
        assert found in (Heard.CLICK, Heard.NOTHING)
    elif element == "starter":
        assert found is not Heard.CRANKS
    else:
        assert found in (heard, Heard.CLICK)


def test_a_weak_battery_rattles_and_the_volts_lie_between(car: Made) -> None:
    plant = car(lambda m: m.blocks.update(battery=Block(charge=0.12)))
    assert cranked(plant) is Heard.CHATTER
    shown = plant.between("bat.plus", "bat.minus")
    assert shown.least < shown.value < shown.greatest
    assert shown.greatest < 12.7


def test_a_shorted_wire_blows_its_fuse_and_only_its_branch_is_dead(car: Made) -> None:
    plant = car(lambda m: m.bypasses.append(Bypass("lamp.feed", "body", 0.02)))
    plant.go("lamps")
    assert [f for f, blown in plant.devices.blown.items() if blown] == ["f6"]
    assert abs(plant.between("f6.out", "bat.minus").value) < 1
    assert plant.between("f7.out", "bat.minus").value > 12


def test_a_diode_less_field_needs_its_lamp(car: Made) -> None:
    plant = car(set_value("charge-lamp", "ohm", inf), sheet_id="crew-minibus")
    plant.go("idle")
    assert plant.between(plant.machine.sheet.plus, plant.machine.sheet.minus).value < 12.8


def test_a_test_lamp_is_a_load_and_a_meter_is_not(car: Made) -> None:
    plant = car(set_value("key-feed", "ohm", 2000.0))
    plant.go("rest")
    assert plant.between("key.B", "bat.minus").value > 12
    plant.attach(Bypass("key.B", "bat.minus", 48.0))
    assert plant.between("key.B", "bat.minus").value < 1
    plant.detach()
    assert plant.between("key.B", "bat.minus").value > 12


def test_a_relay_pulled_stops_what_it_feeds_and_goes_back(car: Made) -> None:
    plant = car()
    assert cranked(plant) is Heard.CRANKS
    plant.part("start-relay")
    assert plant.heard() is Heard.NOTHING
    plant.join("start-relay")
    assert plant.heard() is Heard.CRANKS


def test_a_blown_fuse_stays_blown_until_a_new_one_is_put_in(car: Made) -> None:
    plant = car(lambda m: m.bypasses.append(Bypass("lamp.feed", "body", 0.02)))
    plant.go("run")
    assert plant.blown == set()
    plant.go("lamps")
    assert plant.blown == {"f6"}
    plant.go("run")
    assert abs(plant.between("f6.out", "bat.minus").value) < 1
    plant.join("f6")
    assert plant.between("f6.out", "bat.minus").value > 12
    plant.go("lamps")
    assert plant.blown == {"f6"}


def test_of_two_fuses_in_a_row_the_smaller_opens(car: Made) -> None:
    plant = car(lambda m: m.values["headlamp"].update(ohm=0.02), sheet_id="patrol-motorcycle")
    plant.go("run")
    assert plant.blown == {"ign-fuse"}


def test_a_machine_that_runs_keeps_itself_excited_and_one_started_without_its_lamp_never_wakes(car: Made) -> None:
    plant = car(sheet_id="estate-car")
    sheet = plant.machine.sheet
    plant.go("idle")
    charging_v = plant.between(sheet.plus, sheet.minus).value
    plant.part("l-wire")
    assert plant.between(sheet.plus, sheet.minus).value == pytest.approx(charging_v, abs=0.05)
    plant.go("rest")
    plant.go("idle")
    assert plant.between(sheet.plus, sheet.minus).value < charging_v - 1


@pytest.mark.parametrize(("sheet_id", "feed"), [("estate-car", "key.run"), ("patrol-motorcycle", "rect.out"), ("lift-shuttle", "key.run")])
def test_a_battery_lost_while_running_lets_the_volts_swing_over(car: Made, sheet_id: str, feed: str) -> None:
    plant = car(sheet_id=sheet_id)
    sheet = plant.machine.sheet
    plant.go("fast")
    before_v = plant.between(feed, sheet.minus).value
    ground = next(e.id for e in sheet.elements if {sheet.plus} & set(e.points()) and e.type == "joint")
    plant.part(ground)
    blocks = sheet.system_v / 12
    assert before_v < 14.9 * blocks < plant.between(feed, sheet.minus).value < 17 * blocks


def test_a_thread_of_copper_reads_good_and_carries_nothing(car: Made) -> None:
    plant = car(set_value("key-feed", "thread_ohm", 30.0))
    assert part_ohm(plant, "key-feed") < 0.1
    plant.go("rest")
    wire = plant.machine.sheet.element("key-feed")
    start, end = wire.points()
    assert abs(plant.between(start, end).value) < 0.1
    plant.go("run")
    assert plant.between(start, end).value > 3


def test_a_fitted_charger_lifts_the_posts_and_nothing_flows_back(car: Made) -> None:
    plant = car(sheet_id="fire-tender")
    plant.go("rest")
    rest_v = plant.between("bat.plus", "bat.minus").value
    assert plant.amps("charger").value == 0
    plant.go("oncharge")
    assert plant.between("bat.plus", "bat.minus").value > rest_v + 0.4
    assert 1 < plant.amps("charger").value < 10
    plant.part("plus-clamp")
    assert plant.amps("charger").value == pytest.approx(0, abs=0.05)


@pytest.mark.parametrize(("latches", "heard"), [(True, (Heard.NOTHING, Heard.CLICK)), (False, (Heard.CHATTER,))])
def test_a_controller_that_latches_stays_out_and_another_rattles(spice: Spice, latches: bool, heard: tuple[Heard, ...]) -> None:
    """A feed too thin for the controller and the relay it drives: the controller lets go whenever it has pulled it in."""
    sheet = load_sheet("standby-generator")
    controller = sheet.element("controller").model_copy(update={"latches": latches})
    changed = sheet.changed(elements=[controller if e.id == controller.id else e for e in sheet.elements])
    machine = machine_of(changed)
    machine.values["controller-feed"]["ohm"] = 15.0
    assert cranked(Plant(machine, spice)) in heard
