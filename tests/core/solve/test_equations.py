"""Where the branches and leaks of a network go."""

import numpy as np
import pytest

from iron_probe.core.circuit.network import network_of
from iron_probe.core.solve.equations import Equations, equations, point_leaks
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.stamp import Stamper
from iron_probe.machines import load_sheet


@pytest.mark.parametrize("fed", [False, True])
def test_currents_add_up_at_every_point_but_the_reference(fed: bool) -> None:
    network = network_of(load_sheet("green-mower"))
    values = np.repeat(network.nominal[:, None], 70, axis=1)  # more than are solved at a time, and no whole number of them
    values[network.value[0]] *= np.linspace(0.5, 2, 70)
    stamper = Stamper(network, "crank")
    conductance, source = stamper.fill(values, stamper.at_rest(values))
    volts, flow = Equations(network, fed).solve(values, conductance, source)
    left = point_leaks(len(network.points))[:, None] * volts
    np.add.at(left, network.start, flow)
    np.subtract.at(left, network.end, flow)
    scale = np.abs(flow).max()
    assert np.abs(np.delete(left, network.reference, axis=0)).max() < 1e-10 * scale
    assert not volts[network.reference].any()


def test_room_for_leaks_from_the_supply_changes_nothing_where_none_leaks() -> None:
    network = network_of(load_sheet("green-mower"))
    values = network.nominal[:, None]
    plain = solve_state(network, "crank")
    stamper = Stamper(network, "crank")
    conductance, source = stamper.fill(values, stamper.at_rest(values))
    volts = [Equations(network, fed).solve(values, conductance, source)[0] for fed in (False, True)]
    assert volts[0] == pytest.approx(volts[1], abs=1e-9)
    ohm = [Equations(network, fed).own_ohm(values, conductance) for fed in (False, True)]
    assert ohm[0] == pytest.approx(ohm[1], rel=1e-9) and not ohm[0][network.reference].any()
    assert plain.volts.shape == volts[0].shape


def test_they_are_worked_out_once() -> None:
    network = network_of(load_sheet("green-mower"))
    assert equations(network, False) is equations(network, False)
    assert equations(network, False).plan.edges < equations(network, True).plan.edges
