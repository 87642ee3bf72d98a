"""Where devices stand when the controls have just been moved."""

import numpy as np

from iron_probe.core.circuit.network import network_of
from iron_probe.core.solve.device_tables import devices_of
from iron_probe.core.solve.devices import at_rest
from iron_probe.machines import load_sheet


def test_relays_have_dropped_out_modules_live_and_generators_stand_at_what_they_are_set_to() -> None:
    network = network_of(load_sheet("parcel-van"))
    values, full = np.repeat(network.nominal[:, None], 3, axis=1), np.full((len(network.generators), 3), 40.0)
    where = at_rest(devices_of(network, network.sheet.running_states()[0]), values, full)
    assert where.coils.shape == (len(network.coils), 3) and not where.coils.any()
    assert where.alive.all() and len(where.alive) == len(network.units) and not where.lived.any()
    assert where.emf.tolist() == [values[g.set_v].tolist() for g in network.generators]
    where.limit[:] = 0
    assert (where.full == 40).all() and where.duty.all()
