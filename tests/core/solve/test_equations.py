"""Where the branches and leaks of a network go."""

import numpy as np
import pytest

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.network import Network, network_of
from iron_probe.core.solve.device_tables import devices_of
from iron_probe.core.solve.equations import equations, point_leaks
from iron_probe.core.solve.nodal import own_ohm, solve_some
from iron_probe.machines import load_sheet


@pytest.fixture(scope="module")
def mower() -> Network:
    return network_of(load_sheet("green-mower"))


def linear(network: Network, values: Floats, fed: bool) -> tuple[Floats, Floats, Floats]:
    """Volts, drops and currents of the bare resistances, with the batteries driving them."""
    devices, conductance = devices_of(network, "crank"), 1 / values[network.value]
    source, batteries = np.zeros_like(conductance), devices.batteries
    source[batteries.branch] = -values[batteries.emf] * conductance[batteries.branch]
    volts, drop, flow = np.zeros((len(network.points), values.shape[1])), np.zeros_like(conductance), np.zeros_like(conductance)
    solve_some(equations(network, fed), devices.driving, np.arange(values.shape[1]), values, conductance, source, volts, drop, flow)
    return volts, drop, flow


@pytest.mark.parametrize("fed", [False, True])
def test_currents_add_up_at_every_point_but_the_reference(mower: Network, fed: bool) -> None:
    values = np.repeat(mower.nominal[:, None], 70, axis=1)
    values[mower.value[0]] *= np.linspace(0.5, 2, 70)
    volts, drop, flow = linear(mower, values, fed)
    left = point_leaks(len(mower.points))[:, None] * volts
    np.add.at(left, mower.start, flow)
    np.subtract.at(left, mower.end, flow)
    assert np.abs(np.delete(left, mower.reference, axis=0)).max() < 1e-10 * np.abs(flow).max()
    assert not volts[mower.reference].any()
    assert drop == pytest.approx(volts[mower.start] - volts[mower.end])


def test_some_variants_are_solved_and_the_others_left_as_they_are(mower: Network) -> None:
    values = np.repeat(mower.nominal[:, None], 3, axis=1)
    every, conductance = linear(mower, values, False)[0], 1 / values[mower.value]
    devices, volts = devices_of(mower, "crank"), np.zeros((len(mower.points), 3))
    source = np.zeros_like(conductance)
    source[devices.batteries.branch] = -values[devices.batteries.emf] * conductance[devices.batteries.branch]
    found = np.zeros_like(conductance), np.zeros_like(conductance)
    solve_some(equations(mower, False), devices.driving, np.array([2]), values, conductance, source, volts, *found)
    assert not volts[:, :2].any() and every[:, :2].any() and volts[:, 2].tolist() == every[:, 2].tolist()


def test_room_for_leaks_from_the_supply_changes_nothing_where_none_leaks(mower: Network) -> None:
    values = np.ascontiguousarray(mower.nominal[:, None])
    plain, fed = (linear(mower, values, fed)[0] for fed in (False, True))
    assert plain == pytest.approx(fed, abs=1e-9)
    ohm = [own_ohm(equations(mower, fed), values, 1 / values[mower.value]) for fed in (False, True)]
    assert ohm[0] == pytest.approx(ohm[1], rel=1e-9) and not ohm[0][mower.reference].any()


def test_they_are_worked_out_once(mower: Network) -> None:
    assert equations(mower, False) is equations(mower, False)
    assert equations(mower, False).edges < equations(mower, True).edges
