"""Every shipped sheet in every state, and with faults, against ngspice.

source: ngspice 39 (Debian), operating point in batch mode from our own netlist export.
"""

import re
import subprocess

import numpy as np
import pytest

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.network import Network, build_network
from iron_probe.core.circuit.spice import netlist
from iron_probe.core.errors import SolveError
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution
from iron_probe.machines import load_sheet, sheet_ids


def ngspice(text: str) -> dict[str, float]:
    """Node voltages by ngspice's names."""
    done = subprocess.run(["ngspice", "-n", "-b"], input=text, text=True, capture_output=True, timeout=30, check=False)
    assert "abort" not in done.stderr, done.stderr
    return {m[1]: float(m[2]) for m in re.finditer(r"^(\S+) = (\S+)$", done.stdout, re.M)}


def agree(network: Network, solved: Solution, values: Floats) -> None:
    seen = ngspice(netlist(solved, values))
    for k, point in enumerate(network.points):
        if k != network.reference:
            ours, theirs = solved.volts[k, 0], seen[f"n{k + 1}"]
            assert abs(ours - theirs) <= max(1e-3, 1e-3 * abs(theirs)), f"{point} in {solved.state}: {ours} against {theirs}"


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_every_state_agrees(sheet_id: str) -> None:
    network = build_network(load_sheet(sheet_id))
    for state in network.sheet.states:
        values = network.nominal[:, None]
        agree(network, solve_state(network, state, values), values)


def test_faulty_circuits_agree(minibus_network: Network) -> None:
    rng = np.random.default_rng(4)
    conductors = [k for k, (_, name) in enumerate(minibus_network.parameters) if name == "r_ohm"]
    compared = 0
    for _ in range(25):
        values = minibus_network.nominal[:, None].copy()
        values[rng.choice(conductors, 2), 0] += 10 ** rng.uniform(-3, 6, 2)
        values[rng.choice(minibus_network.leak_rows), 0] = 10 ** rng.uniform(-4, 0)
        for state in ("run", "crank"):
            solved = solve_state(minibus_network, state, values)
            if not solved.chatter[0]:
                agree(minibus_network, solved, values)
                compared += 1
    assert compared > 30


def test_a_chattering_state_is_not_exported(minibus_network: Network) -> None:
    values = minibus_network.nominal[:, None].copy()
    values[minibus_network.row["strap-block", "r_ohm"], 0] = 0.06
    with pytest.raises(SolveError, match="never settles"):
        netlist(solve_state(minibus_network, "crank", values), values)


def test_text_of_a_sheet_never_becomes_a_command() -> None:
    sheet = load_sheet("crew-minibus").model_copy(update={"title": "x\n.control\nshell true\n.endc"})
    network = build_network(sheet)
    text = netlist(solve_state(network, "rest"), network.nominal[:, None])
    assert "shell" not in text
