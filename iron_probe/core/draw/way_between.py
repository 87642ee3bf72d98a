"""The way current takes between two points of a machine as it was solved, for a drawing: with the current from one to the other, not through a battery."""

from itertools import pairwise

import networkx as nx

from iron_probe.core.circuit.elements import BranchKind
from iron_probe.core.circuit.network import branch_id
from iron_probe.core.solve.solution import Solution

STILL_A = 1e-6
"""A branch that carries less [A] than this says nothing of the way."""


def way_between(solved: Solution, red: str, black: str) -> tuple[str, ...]:
    """Branches from one point to the other, first variant: with the current from red to black or from black to red, by the least resistance; where
    none flows between them, through whatever joins them. Empty where nothing does."""
    flowing: nx.DiGraph[str] = nx.DiGraph()
    joined: nx.Graph[str] = nx.Graph()
    network = solved.network
    for number, (owner, branch) in enumerate(zip(network.owners, network.branches, strict=True)):
        if branch.kind is BranchKind.BATTERY:
            continue
        amps, told = (
            float(solved.amps[number, 0]),
            {"ohm": float(network.nominal[network.value[number]]), "branch": branch_id(owner, branch)},
        )
        _add(joined, branch.start, branch.end, told)
        if abs(amps) > STILL_A:
            _add(flowing, *((branch.start, branch.end) if amps > 0 else (branch.end, branch.start)), told)
    return _passed(flowing, red, black) or _passed(flowing, black, red) or _passed(joined, red, black)


def _add(ways: "nx.Graph[str] | nx.DiGraph[str]", start: str, end: str, told: dict[str, object]) -> None:
    if not ways.has_edge(start, end) or ways.edges[start, end]["ohm"] > told["ohm"]:
        ways.add_edge(start, end, **told)


def _passed(ways: "nx.Graph[str] | nx.DiGraph[str]", start: str, end: str) -> tuple[str, ...]:
    if start not in ways or end not in ways or not nx.has_path(ways, start, end):
        return ()
    return tuple(ways.edges[a, b]["branch"] for a, b in pairwise(nx.shortest_path(ways, start, end, weight="ohm")))
