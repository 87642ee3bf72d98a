"""Branch conductances and sources before a network is solved."""

import numpy as np
import pytest

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import Lamp
from iron_probe.core.circuit.network import Network
from iron_probe.core.solve.device_tables import devices_of
from iron_probe.core.solve.devices import Positions, at_rest
from iron_probe.core.solve.stamp import COLD_FILAMENT_SHARE, stamp


def stamped(network: Network, state: str, **moved: object) -> tuple[Floats, Floats, Positions]:
    """Conductance and source (branches,) at rest, with some positions moved."""
    values, devices = np.ascontiguousarray(network.nominal[:, None]), devices_of(network, state)
    where = at_rest(devices, values, np.zeros((len(network.generators), 1)))
    for name, position in moved.items():
        getattr(where, name)[:] = position
    conductance, source = np.zeros((len(network.branches), 1)), np.zeros((len(network.branches), 1))
    stamp(devices, values, 1 / values[network.value], where, np.arange(1), conductance, source)
    return conductance[:, 0], source[:, 0], where


def test_an_open_switch_conducts_nothing_and_a_closed_one_as_its_resistance_says(minibus_network: Network) -> None:
    filled = {state: stamped(minibus_network, state)[0] for state in ("rest", "crank")}
    closes = np.flatnonzero(minibus_network.closed_in("crank") & ~minibus_network.closed_in("rest"))
    assert len(closes) and (filled["crank"][closes] > 1e3 * filled["rest"][closes]).all()
    assert (filled["crank"] >= 0).all()


def test_a_coil_that_pulls_in_closes_its_contacts(minibus_network: Network) -> None:
    devices = devices_of(minibus_network, "crank")
    open_at_rest = devices.contacts.branch[~devices.contacts.rest]
    assert not stamped(minibus_network, "crank")[0][open_at_rest].any()
    assert (stamped(minibus_network, "crank", coils=True)[0][open_at_rest] > 0).all()


def test_a_cold_filament_takes_many_times_what_a_hot_one_does(minibus_network: Network) -> None:
    lamps = [n for n, o in enumerate(minibus_network.owners) if isinstance(o, Lamp)]
    hot, cold = (stamped(minibus_network, "crank", lamp_v=v)[0][lamps] for v in (12.0, 0.0))
    assert lamps and cold == pytest.approx(hot / COLD_FILAMENT_SHARE, rel=0.2)


def test_a_running_motor_drives_and_a_standing_one_does_not(minibus_network: Network) -> None:
    motors = devices_of(minibus_network, "crank").motors.branch
    (standing, pushed, _), (running, back, _) = (stamped(minibus_network, "crank", motor_runs=runs) for runs in (False, True))
    assert not pushed[motors].any() and (back[motors] > 0).all()
    assert (running[motors] < standing[motors]).all()
