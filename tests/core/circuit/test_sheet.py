"""A sheet's content is its identity; names it does not know are told."""

import pytest

from iron_probe.core.circuit.elements import Battery
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import SolveError
from iron_probe.machines import load_sheet


def test_the_fingerprint_changes_with_the_content_and_with_nothing_else(minibus: Sheet) -> None:
    same = Sheet.model_validate(minibus.model_dump(by_alias=True))
    assert same.fingerprint == minibus.fingerprint
    assert minibus.changed(title="Another").fingerprint != minibus.fingerprint


def test_elements_states_and_points_are_found_by_name(minibus: Sheet) -> None:
    assert all(isinstance(b, Battery) for b in minibus.batteries) and minibus.batteries
    for find in (minibus.element, minibus.state, minibus.point):
        with pytest.raises(SolveError, match="nowhere"):
            find("nowhere")


def test_it_cranks_in_one_state_and_runs_in_others(minibus: Sheet) -> None:
    crank = minibus.cranking_state()
    assert crank is not None and minibus.states[crank].cranking
    assert all(minibus.states[s].rpm for s in minibus.running_states())


def test_the_volts_between_the_posts_of_a_battery_are_its_own() -> None:
    digger = load_sheet("quay-digger")
    battery = digger.batteries[0]
    assert (digger.volts_between(battery.end, battery.start), digger.volts_between(digger.plus, digger.minus)) == (12, 24)
