"""Machines that charge: by design, speed, load, and with a wire lost."""

import numpy as np
import pytest

from iron_probe.core.bench.charging import (
    band,
    has_charging,
    judge_commanded,
)
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.faults import OPEN_OHM
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution
from iron_probe.machines import load_sheet, sheet_ids


def solved(sheet_id: str, state: str, *faults: tuple[str, str, float]) -> Solution:
    network = network_of(load_sheet(sheet_id))
    values = network.nominal[:, None].copy()
    for element, mode, severity in faults:
        find_mode(fault_modes(network), element, mode).apply(values, np.array([severity]))
    return solve_state(network, state, values)


def posts(solution: Solution) -> float:
    sheet = solution.network.sheet
    return float(solution.between(sheet.plus, sheet.minus)[0])


CHARGING = [i for i in sheet_ids() if has_charging(load_sheet(i))]


def test_fourteen_sheets_charge() -> None:
    assert len(CHARGING) >= 14


@pytest.mark.parametrize("sheet_id", CHARGING)
def test_a_sound_machine_charges_at_its_fastest_and_settles_in_every_state(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    for state in sheet.running_states():
        assert not solved(sheet_id, state).chatter[0]
    low, high = band(20, sheet.system_v)
    assert low < posts(solved(sheet_id, sheet.running_states()[-1])) < high


def test_an_open_charge_lamp_leaves_a_lamp_woken_alternator_asleep_until_it_revs() -> None:
    assert posts(solved("estate-car", "fast", ("charge-lamp", "open", 1))) < 12.7
    assert posts(solved("estate-car", "fast")) > 14
    assert posts(solved("estate-car", "fast", ("l-wire", "open", 1))) < 12.7


def test_a_lost_sense_wire_overcharges_and_reads_low_at_the_terminal() -> None:
    lost = solved("harbour-launch", "fast", ("sense-wire", "open", 1))
    assert posts(lost) > 15.0
    assert float(lost.between("alt.S", "alt.case")[0]) < 1


def test_a_replacement_that_never_answers_charges_at_its_default_with_the_bus_alive() -> None:
    deaf = solved("parcel-van", "fast", ("alternator", "never_answers", 1))
    assert posts(deaf) == pytest.approx(posts(solved("parcel-van", "fast", ("bus-wire", "open", 1))), abs=0.05)
    bus = float(deaf.between("alt.bus", "alt.case")[0])
    assert bus > 0.8 * 12
    assert "does not answer" in judge_commanded(posts(deaf), bus, 12).text


def test_a_silent_bus_leaves_the_default_voltage() -> None:
    default = posts(solved("parcel-van", "fast", ("bus-wire", "open", 1)))
    assert 13.3 < default < 13.7 < posts(solved("parcel-van", "fast"))


def test_an_outside_regulator_needs_its_ground_its_feed_and_its_field_wire() -> None:
    for element in ("regulator-base", "regulator-feed", "field-wire"):
        assert posts(solved("fire-tender", "fast", (element, "open", 1))) < 12.7, element
    assert posts(solved("fire-tender", "fast", ("regulator", "full_on", 1))) > 15.5
    assert posts(solved("fire-tender", "rest")) > 12.5


def test_speed_belt_and_load_limit_the_output() -> None:
    slipping = solved("crew-minibus", "loaded", ("alternator", "belt_slips", 0.2))
    assert posts(slipping) < 13
    assert posts(solved("quay-digger", "loaded")) < posts(solved("quay-digger", "fast"))


def test_a_flat_battery_takes_more_and_holds_the_voltage_down() -> None:
    sheet = load_sheet("green-mower")
    flat = solve_state(network_of(sheet, Conditions(charge=0.1)), "idle")
    assert float(flat.current("battery")[0]) > 4 * float(solved("green-mower", "idle").current("battery")[0])
    assert posts(flat) < posts(solved("green-mower", "idle"))


def test_a_parted_stator_plug_costs_half_of_three_phases_and_all_of_one() -> None:
    def given(sheet_id: str, pin: str) -> float:
        network = network_of(load_sheet(sheet_id), Conditions(charge=0.3))
        parted = network.nominal[:, None].copy()
        parted[network.row[pin, "r_ohm"]] = OPEN_OHM
        sound, bad = (-float(solve_state(network, "idle", v).current("rectifier.output")[0]) for v in (None, parted))
        return bad / sound

    assert given("patrol-motorcycle", "stator-pin-2") == pytest.approx(0.5, abs=0.15)
    assert given("green-mower", "stator-pin-2") == pytest.approx(0, abs=1e-6)


def test_a_commanded_machine_is_passive_and_high_on_purpose_while_its_bus_is_heard() -> None:
    assert (
        posts(solved("parcel-van", "passive"))
        < 12.9
        < 14
        < posts(solved("parcel-van", "idle"))
        < 14.6
        < posts(solved("parcel-van", "slowing"))
    )
    silent = [posts(solved("parcel-van", s, ("bus-splice", "open", 1))) for s in ("passive", "idle", "slowing")]
    assert max(silent) - min(silent) < 0.1 and 13.2 < silent[0] < 14.0


def test_a_silent_bus_lights_the_warning_lamp_of_the_cluster() -> None:
    def lamp_a(*faults: tuple[str, str, float]) -> float:
        return abs(float(solved("parcel-van", "idle", *faults).current("warning-lamp")[0]))

    assert lamp_a() < 0.001
    assert lamp_a(("engine-module", "bus_stuck_off", 1)) > 0.05
    assert lamp_a(("engine-module", "bus_stuck_off", 1), ("dash-run-wire", "open", 1)) < 0.001  # the cluster's other feed


def test_without_a_battery_the_volts_swing_over() -> None:
    sound, lost = solved("patrol-motorcycle", "fast"), solved("patrol-motorcycle", "fast", ("plus-eyelet", "open", 1))
    assert sound.between("rect.out", "bat.minus")[0] < 14.8 < lost.between("rect.out", "bat.minus")[0] < 17


def test_a_fitted_charger_gives_while_it_is_fed_and_takes_nothing_back() -> None:
    fed, unplugged = solved("standby-generator", "oncharge"), solved("standby-generator", "rest")
    assert posts(fed) > posts(unplugged) + 0.3
    assert 0.5 < float(fed.current("charger")[0]) < 5.5
    assert float(unplugged.current("charger")[0]) == 0
    assert posts(solved("standby-generator", "oncharge", ("charger", "no_output", 1))) == pytest.approx(posts(unplugged), abs=0.01)


def test_an_outside_regulator_goes_by_its_feed_however_far_that_is_off() -> None:
    starved = solved("fire-tender", "fast", ("regulator-feed", "high_resistance", 60.0))
    assert posts(starved) > 16.0 and float(starved.between("reg.A", "reg.ground")[0]) < 14.2


def test_a_single_winding_with_half_its_turns_charges_only_at_speed() -> None:
    slow, fast = (solved("green-mower", state, ("stator", "phase_1_turns", 0.5)) for state in ("idle", "fast"))
    assert posts(slow) < 12.8 and posts(fast) > 13.5
    assert posts(solved("green-mower", "idle")) > 13.5
