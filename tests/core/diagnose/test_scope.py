"""Which states and parts belong to a kind of work."""

import pytest

from iron_probe.core.diagnose.scope import Scope, can_be_guilty, is_quiet, states_of
from iron_probe.machines import load_sheet, sheet_ids


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_starting_never_runs_and_charging_does(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    assert all(not sheet.states[s].rpm for s in states_of(sheet, Scope.STARTING))
    running = [s for s in states_of(sheet, Scope.CHARGING) if sheet.states[s].rpm]
    assert bool(running) == bool(sheet.running_states())


def test_a_generator_is_innocent_of_a_no_crank() -> None:
    sheet = load_sheet("pool-car")
    alternator = next(e for e in sheet.elements if e.type == "alternator")
    assert not can_be_guilty(alternator, Scope.STARTING)
    assert can_be_guilty(alternator, Scope.CHARGING)


def test_a_wire_that_carries_nothing_is_quiet_in_charging_work_and_the_generator_never_is() -> None:
    sheet = load_sheet("parcel-van")
    wire, alternator = sheet.element("bus-wire"), next(e for e in sheet.elements if e.type == "alternator")
    assert is_quiet(wire, Scope.CHARGING, 1e-5) and not is_quiet(wire, Scope.CHARGING, 0.5)
    assert not is_quiet(wire, Scope.STARTING, 1e-5) and not is_quiet(alternator, Scope.CHARGING, 0.0)
