"""One state of the minibus solved singly and in batches, against ngspice as a process and batched dense LAPACK."""

import subprocess

import numpy as np

from bench.timing import median_s
from iron_probe.core.arrays import Floats
from iron_probe.core.bench.drop_board import spread_values
from iron_probe.core.circuit.network import Network, build_network
from iron_probe.core.circuit.spice import netlist
from iron_probe.core.solve.equations import POINT_LEAK_S
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution
from iron_probe.machines import load_sheet

VARIANTS = 1000


def dense_once(network: Network, solved: Solution, values: Floats) -> Floats:
    """The last linear system of every variant by batched dense LAPACK: what one round costs without the plan."""
    n, count = len(network.points), values.shape[1]
    matrix = np.zeros((count, n, n))
    drop = solved.volts[network.start] - solved.volts[network.end]
    conductance = np.where(np.abs(drop) > 1e-9, solved.amps / np.where(np.abs(drop) > 1e-9, drop, 1), 1 / values[network.value])
    for k, (a, b) in enumerate(zip(network.start, network.end, strict=True)):
        g = np.abs(conductance[k])
        matrix[:, a, a] += g
        matrix[:, b, b] += g
        matrix[:, a, b] -= g
        matrix[:, b, a] -= g
    matrix += np.eye(n) * POINT_LEAK_S
    right = np.zeros((count, n, 1))
    right[:, network.plus, 0] = 1.0
    keep = [k for k in range(n) if k != network.reference]
    return np.asarray(np.linalg.solve(matrix[:, keep][:, :, keep], right[:, keep]), dtype=float)


def table() -> str:
    """Measure and word it."""
    network = build_network(load_sheet("crew-minibus"))
    values = spread_values(network, VARIANTS, 7)
    one = values[:, :1]
    single = median_s(lambda: solve_state(network, "crank", one), 15)
    batch = median_s(lambda: solve_state(network, "crank", values), 5) / VARIANTS
    many = spread_values(network, 4 * VARIANTS, 7)
    large = median_s(lambda: solve_state(network, "crank", many), 5) / (4 * VARIANTS)
    solved = solve_state(network, "crank", values)
    rounds = int(solved.rounds.max())
    dense = median_s(lambda: dense_once(network, solved, values), 3) * rounds / VARIANTS
    text = netlist(solve_state(network, "crank", one), one)
    spice = median_s(lambda: subprocess.run(["ngspice", "-n", "-b"], input=text, text=True, capture_output=True, check=False), 15)
    return "\n".join(
        [
            f"## Solving: crew minibus cranking, {len(network.points)} points, {len(network.branches)} branches",
            "",
            "| what | per variant | times our batch |",
            "| --- | ---: | ---: |",
            f"| our batch of {VARIANTS:,} variants ({rounds} rounds until relays, starter and lamps settle) | {batch * 1e6:.0f} µs | 1 |",
            f"| our batch of {4 * VARIANTS:,} variants (an ensemble is solved in such batches) | {large * 1e6:.0f} µs | {large / batch:.1f} |",
            f"| our single solves in a loop | {single * 1e6:,.0f} µs | {single / batch:.0f} |",
            f"| batched dense LAPACK, the same rounds, linear solve alone | {dense * 1e6:,.0f} µs | {dense / batch:.1f} |",
            f"| ngspice as a process, one operating point (referee) | {spice * 1e6:,.0f} µs | {spice / batch:,.0f} |",
            "",
        ]
    )
