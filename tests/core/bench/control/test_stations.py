"""Every part of the control side has tests that a sound machine passes."""

import pytest

from iron_probe.core.bench.control.interlock import chain_of
from iron_probe.core.bench.control.stations import Station, stations_of
from iron_probe.core.bench.control.steps import Wanted
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Conditions, Module, Relay, Switch
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.machines import load_sheet, sheet_ids


def stations(sheet_id: str) -> tuple[Station, ...]:
    sheet = load_sheet(sheet_id)
    return stations_of(sheet, (link.element for link in chain_of(network_of(sheet), None)), Conditions())


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_a_sound_machine_passes_its_voltage_tests(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    failed = []
    for station in stations(sheet_id):
        for step in station.steps:
            r = step.reading
            if r.instrument is not Instrument.VOLTMETER:
                continue
            value = good_machine(sheet, r.state, Conditions()).expected(r.red or "", r.black or "")[0]
            if step.met(r.model_copy(update={"value": value}), sheet.system_v) is not True:
                failed.append((station.element.id, step.title, step.wanted, round(value, 2)))
    assert not failed


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_chain_relays_and_modules_each_once(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    ids = [s.element.id for s in stations(sheet_id)]
    assert len(ids) == len(set(ids))
    assert {e.id for e in sheet.elements if isinstance(e, Relay | Module)} <= set(ids)


def contact(sheet_id: str, element: str) -> Station:
    return next(s for s in stations(sheet_id) if isinstance(s.element, Switch) and s.element.id == element)


def test_that_a_contact_makes_is_asked_before_that_it_opens() -> None:
    pole = contact("pool-car", "key-crank-pole")
    by_plug = [s for s in pole.steps if s.reading.instrument is Instrument.VOLTMETER]
    wanted = [s.wanted for s in by_plug]
    assert wanted[:3] == [Wanted.LIVE, Wanted.LIVE, Wanted.LITTLE] and set(wanted[3:]) == {Wanted.DEAD}
    assert {s.wanted for s in pole.steps if s.reading.instrument is Instrument.OHMMETER} == {Wanted.CLOSED, Wanted.OPEN}


def test_dead_behind_a_contact_with_nothing_before_it_is_not_asked_for() -> None:
    clutch = contact("crew-minibus", "clutch-switch")  # with the pedal up its key is off
    assert all(s.wanted is not Wanted.DEAD for s in clutch.steps)


def test_a_contact_that_passes_a_ground_on_is_asked_from_its_ground_end() -> None:
    lanyard = contact("rescue-watercraft", "lanyard-post")
    first, second = lanyard.steps[:2]
    assert (first.wanted, second.wanted) == (Wanted.DEAD, Wanted.DEAD)
    assert "way to ground" in first.otherwise and "this contact" in second.otherwise
