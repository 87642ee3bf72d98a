"""The heavy path: from battery plus through the starter, or the largest consumer where there is none, back to battery minus."""

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import networkx as nx

from iron_probe.core.circuit.elements import BranchKind, Starter
from iron_probe.core.circuit.network import Network, branch_id
from iron_probe.core.errors import SolveError


@dataclass(frozen=True, slots=True)
class HeavyPath:
    """Points and branches in the order current takes them; `supply` ends and `ground` begins at its `load`: the starter motor, or the
    largest consumer of a machine that has nothing to crank (`cranked` False).

    `supply_points` has one entry more than `supply`, likewise for ground.
    """

    supply_points: tuple[str, ...]
    supply: tuple[str, ...]
    load: str
    cranked: bool
    ground_points: tuple[str, ...]
    ground: tuple[str, ...]


@lru_cache(maxsize=128)
def heavy_path(network: Network) -> HeavyPath:
    """Find the way of least resistance from plus post to the starter and from its case to minus.

    A machine without a starter joined to both posts is followed to its largest consumer; SolveError where not even one is.
    """
    ways: nx.Graph = nx.Graph()
    ways.add_nodes_from(network.points)
    for number, (owner, branch) in enumerate(zip(network.owners, network.branches, strict=True)):
        if branch.kind in (BranchKind.CONDUCTOR, BranchKind.SWITCH, BranchKind.CONTACT) and owner.type != "load":
            ohm = float(network.nominal[network.value[number]])
            if not ways.has_edge(branch.start, branch.end) or ways.edges[branch.start, branch.end]["ohm"] > ohm:
                ways.add_edge(branch.start, branch.end, ohm=ohm, branch=branch_id(owner, branch))

    def along(points: list[str]) -> tuple[str, ...]:
        return tuple(ways.edges[a, b]["branch"] for a, b in pairwise(points))

    sheet = network.sheet
    for number in _loads(network):
        load, branch = network.owners[number], network.branches[number]
        rest = ways.copy()
        rest.remove_edges_from([(a, b) for a, b, owner in ways.edges(data="branch") if owner == branch_id(load, branch)])
        try:
            supply = nx.shortest_path(rest, sheet.plus, branch.start, weight="ohm")
            ground = nx.shortest_path(rest, branch.end, sheet.minus, weight="ohm")
        except (nx.NetworkXNoPath, nx.NodeNotFound):
            continue
        if set(supply) & set(ground):
            continue
        return HeavyPath(tuple(supply), along(supply), branch_id(load, branch), isinstance(load, Starter), tuple(ground), along(ground))
    raise SolveError(
        f"{sheet.title}: no consumer is joined to both posts, so there is no path to follow. Give it one, fed from {sheet.plus}."
    )


def _loads(network: Network) -> list[int]:
    """Numbers of the branches the path may end at: starters first, then consumers by how much they draw."""
    consumers = [
        n for n, (o, b) in enumerate(zip(network.owners, network.branches, strict=True))
        if b.kind in (BranchKind.MOTOR, BranchKind.LAMP, BranchKind.DRAW) or o.type == "load" or b.name in ("coil", "hold")
    ]  # fmt: skip
    return sorted(consumers, key=lambda n: (not isinstance(network.owners[n], Starter), float(network.nominal[network.value[n]])))
