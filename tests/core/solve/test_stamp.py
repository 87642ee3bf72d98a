"""Branch conductances and sources before a network is solved."""

import numpy as np

from iron_probe.core.circuit.network import Network, network_of
from iron_probe.core.solve.stamp import Stamper, full_output
from iron_probe.machines import load_sheet


def test_an_open_switch_conducts_nothing_and_a_closed_one_as_its_resistance_says(minibus_network: Network) -> None:
    values = minibus_network.nominal[:, None]
    filled = {}
    for state in ("rest", "crank"):
        stamper = Stamper(minibus_network, state)
        filled[state] = stamper.fill(values, stamper.at_rest(values))[0][:, 0]
    closes = np.flatnonzero(minibus_network.closed_in("crank") & ~minibus_network.closed_in("rest"))
    assert len(closes) and (filled["crank"][closes] > 1e3 * filled["rest"][closes]).all()
    assert (filled["crank"] >= 0).all()


def test_a_generator_gives_more_the_faster_it_turns_up_to_its_rating() -> None:
    network = network_of(load_sheet("pool-car"))
    values = network.nominal[:, None]
    given = [float(full_output(network.generators[0], rpm, values)[0]) for rpm in (0.0, 800.0, 2000.0, 8000.0)]
    assert given == sorted(given) and given[0] == 0.0 and given[3] < 1.3 * network.generators[0].element.rated_a
