"""Export for a circuit simulator."""

import re

from iron_probe.core.circuit.network import Network
from iron_probe.core.circuit.spice import netlist
from iron_probe.core.solve.operate import solve_state


def test_every_branch_that_conducts_is_a_part_between_its_nodes(minibus_network: Network) -> None:
    text = netlist(solve_state(minibus_network, "crank"), minibus_network.nominal[:, None])
    assert text.strip().endswith(".end")
    parts = [line for line in text.splitlines() if re.match(r"[RVI]\w", line)]
    assert len(parts) >= 0.5 * len(minibus_network.branches)
    assert all(len(line.split()) >= 4 for line in parts)
