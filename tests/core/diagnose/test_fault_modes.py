"""Fault modes of a machine: severities, and which can be guilty."""

import numpy as np
import pytest

from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode, peak_currents
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.errors import SolveError
from iron_probe.machines import load_sheet


def test_severities_run_over_the_log_range_and_change_only_their_own_parameter() -> None:
    network = network_of(load_sheet("green-mower"))
    mode = find_mode(fault_modes(network), "frame-bolt", "high_resistance")
    least, middle, most = mode.severity(np.array([0.0, 0.5, 1.0]))
    assert middle == pytest.approx(np.sqrt(least * most))
    values = np.repeat(network.nominal[:, None], 2, axis=1)
    before = values.copy()
    mode.apply(values, np.array([least, most]))
    changed = np.flatnonzero((values != before).any(axis=1))
    assert len(changed) == 1 and network.parameters[int(changed[0])][0] == "frame-bolt"


def test_a_name_that_is_none_lists_those_there_are() -> None:
    modes = fault_modes(network_of(load_sheet("green-mower")))
    with pytest.raises(SolveError, match="high_resistance"):
        find_mode(modes, "frame-bolt", "rust")


def test_starting_and_charging_accuse_different_parts() -> None:
    network = network_of(load_sheet("pool-car"))
    starting, charging = ({m.element for m in fault_modes(network, work)} for work in Scope)
    generator = network.generators[0].element.id
    assert generator in charging and generator not in starting
    starter = next(e.id for e in network.sheet.elements if e.type == "starter")
    assert starter in starting


def test_the_starters_way_carries_the_most() -> None:
    network = network_of(load_sheet("pool-car"))
    crank = network.sheet.cranking_state()
    assert crank
    peaks = peak_currents(network, [crank])
    starter = next(n for n, o in enumerate(network.owners) if o.type == "starter")
    assert peaks.max() == pytest.approx(peaks[starter], rel=0.2)


def test_a_dead_short_is_guilty_of_work_its_part_carries_nothing_for() -> None:
    """What the cranking wire blew the engine charges without, too; its loose joint is nothing to the charging."""
    modes = fault_modes(network_of(load_sheet("harbour-launch")), Scope.CHARGING)
    assert {m.opened for m in modes if m.element == "crank-wire" and m.blows} == {
        "breaker",
        "engine-link",
    }  # nearly as far: either may open first
    assert not any(m.name == "high_resistance" for m in modes if m.element == "crank-wire")


def test_what_shows_in_no_state_of_the_work_is_no_suspect() -> None:
    network = network_of(load_sheet("crew-minibus"))
    every, charging = fault_modes(network), fault_modes(network, Scope.CHARGING)
    assert any(m.element == "start-relay" and m.name == "coil_open" for m in every)
    assert not any(m.element == "start-relay" and m.name == "coil_open" for m in charging)


def test_a_bus_that_carries_nothing_is_suspected_by_what_it_commands_and_a_reversing_lamp_is_not() -> None:
    charging = fault_modes(network_of(load_sheet("parcel-van")), Scope.CHARGING)
    named = {(m.element, m.name) for m in charging}
    assert {("bus-wire", "open"), ("bus-splice", "high_resistance")} <= named
    assert not {("reverse-lamp", "open"), ("starter-cable", "open")} & named
