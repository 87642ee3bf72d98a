"""The places a charging system is read at, for every design."""

import pytest

from iron_probe.core.bench.charge_spots import Spot, charge_spots, fuses_out, warning_lamp
from iron_probe.core.bench.charging import has_charging, maker_of
from iron_probe.core.circuit.elements import Alternator, Conditions
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.evidence import Instrument, check_reading
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.machines import load_sheet, sheet_ids

CHARGING = [s for s in sheet_ids() if has_charging(load_sheet(s))]


def spots(sheet_id: str) -> dict[str, Spot]:
    sheet = load_sheet(sheet_id)
    return {s.key: s for s in charge_spots(sheet, Conditions(), states_of(sheet, Scope.CHARGING))}


@pytest.mark.parametrize("sheet_id", CHARGING)
def test_each_place_can_be_read_and_good_is_not_off(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    network = network_of(sheet)
    for spot in spots(sheet_id).values():
        for at in spot.states:
            check_reading(at.reading, network)
            if at.good is not None and at.reading.instrument is Instrument.VOLTMETER:
                assert not at.off(at.reading.model_copy(update={"value": at.good}))
                assert at.off(at.reading.model_copy(update={"value": at.high + 3.0}))


@pytest.mark.parametrize("sheet_id", CHARGING)
def test_a_stator_machine_has_no_small_wires_and_an_alternator_only_its_own(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    maker, keys = maker_of(sheet), set(spots(sheet_id))
    own = {k for k in ("l", "ig", "s", "bus", "f") if isinstance(maker, Alternator) and getattr(maker, k)}
    assert keys & {"l", "ig", "s", "bus", "f"} == own
    assert ("lamp" in keys) is (warning_lamp(sheet) is not None)
    assert ("substitute_lamp" in keys) is ("l" in own) and ("full_field" in keys) is ("f" in own)


def test_a_place_is_shown_in_a_state_it_is_read_in() -> None:
    amps = spots("pool-car")["amps"]
    assert amps.in_state("fast").state == "fast"
    assert amps.in_state("rest").state == amps.states[-1].state


@pytest.mark.parametrize("sheet_id", CHARGING)
def test_what_leaves_the_output_passes_a_fuse(sheet_id: str) -> None:
    assert fuses_out(load_sheet(sheet_id))
