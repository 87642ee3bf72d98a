"""How devices answer what was found, one round at a time."""

import numpy as np
import pytest

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.network import Network
from iron_probe.core.solve.device_tables import devices_of
from iron_probe.core.solve.devices import Devices, Positions, at_rest
from iron_probe.core.solve.settle import LAMP_TOLERANCE_V, bend, move

Round = tuple[Network, Devices, Floats, Positions, Floats, Floats, Floats]
ONE = np.arange(1)


@pytest.fixture
def dead(minibus_network: Network) -> Round:
    """The minibus while cranked, with no volts and no current anywhere, filaments as cold."""
    values, devices = np.ascontiguousarray(minibus_network.nominal[:, None]), devices_of(minibus_network, "crank")
    where = at_rest(devices, values, np.zeros((len(minibus_network.generators), 1)))
    where.lamp_v[:] = 0
    points, branches = np.zeros((len(minibus_network.points), 1)), np.zeros((len(minibus_network.branches), 1))
    return minibus_network, devices, values, where, points, branches, branches.copy()


def test_where_nothing_flows_nothing_bends_and_what_lives_on_volts_dies(dead: Round) -> None:
    _, devices, values, where, volts, drop_v, amps = dead
    changed, rough = bend(devices, values, where, ONE, volts, drop_v, amps)
    assert not changed[0] and not rough[0]
    moved = move(devices, values, where, ONE, volts, amps)
    units = moved[len(devices.coils) : len(devices.coils) + len(devices.units)]
    assert not moved[: len(devices.coils)].any() and units.all() and not where.alive.any()


def test_a_coil_pulls_in_at_its_own_current_and_holds_below_it(dead: Round) -> None:
    _, devices, values, where, volts, _, amps = dead
    coil = devices.coils[0]
    pull_a, drop_a = values[coil.pull_in, 0], values[coil.drop_out, 0]
    pulled = []
    for drive_a in (0.99 * pull_a, pull_a, 1.01 * drop_a, 0.99 * drop_a):
        amps[coil.winding] = drive_a
        move(devices, values, where, ONE, volts, amps)
        pulled.append(bool(where.coils[0, 0]))
    assert pulled == [False, True, True, False]


def test_a_coil_is_quicker_than_a_motor_which_then_feels_the_inrush_anew(dead: Round) -> None:
    _, devices, values, where, volts, _, amps = dead
    where.motor_runs[:] = True
    amps[devices.coils[0].winding] = 2 * values[devices.coils[0].pull_in]
    assert move(devices, values, where, ONE, volts, amps)[0, 0]
    assert not where.motor_runs.any()


def test_no_coil_should_answer_while_a_battery_is_just_being_loaded(dead: Round) -> None:
    _, devices, values, where, volts, drop_v, amps = dead
    amps[devices.batteries.branch] = -1.5 * values[devices.batteries.heavy]
    changed, rough = bend(devices, values, where, ONE, volts, drop_v, amps)
    assert changed[0] and rough[0] and where.straining.all()
    amps[devices.coils.winding] = 100.0
    assert not move(devices, values, where, ONE[~rough], volts, amps).any() and where.alive.all()
    assert not bend(devices, values, where, ONE, volts, drop_v, amps)[1][0]


def test_a_filament_is_settled_within_a_millivolt(dead: Round) -> None:
    _, devices, values, where, volts, drop_v, amps = dead
    lamp = devices.lamps[0].branch
    found = []
    for across_v in (6.0, 6.0 + 0.9 * LAMP_TOLERANCE_V, 6.2):
        drop_v[lamp] = across_v
        found.append(bool(bend(devices, values, where, ONE, volts, drop_v, amps)[0][0]))
    assert found == [True, False, True] and where.lamp_v[0, 0] == 6.2
