from math import inf, isinf

import numpy as np
import pytest

from iron_probe.machines import load_sheet
from iron_probe.rig.build import machine_of
from iron_probe.rig.meters import Hand, Slip, part_ohm
from iron_probe.rig.plant import Heard, Plant
from iron_probe.rig.spice import Spice


@pytest.fixture
def plant(spice: Spice) -> Plant:
    made = Plant(machine_of(load_sheet("pool-car")), spice)
    made.go("run")
    return made


@pytest.fixture
def hand() -> Hand:
    return Hand(np.random.default_rng(2))


def test_a_meter_errs_by_less_than_a_hundredth(plant: Plant, hand: Hand) -> None:
    true = plant.between("bat.plus", "bat.minus").value
    assert hand.volts(plant, "bat.plus", "bat.minus").value == pytest.approx(true, rel=0.015)


def test_slips_are_made_and_remembered(plant: Plant, hand: Hand) -> None:
    hand.forced = Slip.SWAPPED
    assert hand.volts(plant, "bat.plus", "bat.minus").value < -12
    hand.forced = Slip.NO_CONTACT
    assert hand.volts(plant, "bat.plus", "bat.minus").value == 0
    assert hand.made == [Slip.SWAPPED, Slip.NO_CONTACT]
    assert hand.volts(plant, "bat.plus", "bat.minus").value > 12


def test_a_lamp_behind_kilohms_stays_dark_where_a_meter_shows_all(plant: Plant, hand: Hand) -> None:
    plant.machine.values["key-feed"]["ohm"] = 3000.0
    plant.changed()
    plant.go("rest")
    assert hand.volts(plant, "key.B", "bat.minus").value > 12
    assert hand.lamp(plant, "key.B", "bat.minus", "small") == "off"
    assert hand.lamp(plant, "f5.out", "bat.minus", "small") == "bright"


def test_a_jumper_past_a_dead_contact_cranks(plant: Plant, hand: Hand) -> None:
    plant.machine.values["start-relay"]["stuck"] = -1.0
    plant.changed()
    plant.go("crank")
    assert plant.heard() is not Heard.CRANKS
    assert hand.bridged(plant, "relay.30", "relay.87", 0.006) is Heard.CRANKS


def test_ohms_of_a_switch_hang_on_the_state(plant: Plant) -> None:
    assert part_ohm(plant, "key-run-pole") < 0.1
    plant.go("rest")
    assert isinf(part_ohm(plant, "key-run-pole"))


def test_an_open_coil_is_over_range(plant: Plant, hand: Hand) -> None:
    assert 60 < hand.ohms(plant, "start-relay.coil") < 110
    plant.machine.values["start-relay"]["coil_ohm"] = inf
    assert isinf(hand.ohms(plant, "start-relay.coil"))


@pytest.mark.parametrize("slip", [Slip.BAD_CONTACT, Slip.LOOSE_REFERENCE])
def test_a_poor_contact_shows_less(plant: Plant, hand: Hand, slip: Slip) -> None:
    hand.forced = slip
    assert 0.5 < hand.volts(plant, "bat.plus", "bat.minus").value < 12


def test_a_loose_clamp_spoils_only_what_is_read_against_it(plant: Plant, hand: Hand) -> None:
    true = plant.between("f6.out", "body").value
    hand.forced = Slip.LOOSE_REFERENCE
    assert hand.volts(plant, "f6.out", "body").value == pytest.approx(true, rel=0.02)


def test_a_charger_left_on_lifts_the_posts_and_is_off_again_afterwards(plant: Plant, hand: Hand) -> None:
    before = plant.between("bat.plus", "bat.minus").value
    hand.forced = Slip.CHARGER_LEFT_ON
    assert hand.volts(plant, "bat.plus", "bat.minus").value > before + 0.3
    assert plant.between("bat.plus", "bat.minus").value == pytest.approx(before, abs=1e-3)


def test_another_state_is_read_and_the_asked_one_stands_again(plant: Plant, hand: Hand) -> None:
    hand.forced = Slip.OTHER_STATE
    hand.volts(plant, "bat.plus", "bat.minus")
    assert plant.state == "run"


def test_memory_is_near_the_truth_and_not_at_it(plant: Plant, hand: Hand) -> None:
    told = []
    for _ in range(8):
        hand.forced = Slip.FROM_MEMORY
        told.append(hand.volts(plant, "bat.plus", "bat.minus").value)
    assert max(told) - min(told) > 1
    assert np.median(told) == pytest.approx(plant.between("bat.plus", "bat.minus").value, rel=0.2)


def test_a_load_tester_draws_a_hundred_amps_of_a_battery_in_a_row_as_of_one_alone(spice: Spice, plant: Plant, hand: Hand) -> None:
    digger = Plant(machine_of(load_sheet("quay-digger")), spice)
    digger.go("rest")
    plant.go("rest")
    battery, sheet = digger.machine.sheet.batteries[0], plant.machine.sheet
    alone, one, both = (
        hand.under_load(p, red, black)
        for p, red, black in (
            (plant, sheet.plus, sheet.minus),
            (digger, battery.end, battery.start),
            (digger, digger.machine.sheet.plus, digger.machine.sheet.minus),
        )
    )
    assert 11.2 < alone < 12.4 and one == pytest.approx(alone, abs=0.5) and both == pytest.approx(2 * one, abs=0.3)
