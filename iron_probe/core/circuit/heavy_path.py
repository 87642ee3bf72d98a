"""The heavy path: from battery plus through the starter back to battery minus."""

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import networkx as nx

from iron_probe.core.circuit.elements import BranchKind, Starter
from iron_probe.core.circuit.network import Network, branch_id
from iron_probe.core.errors import SolveError


@dataclass(frozen=True, slots=True)
class HeavyPath:
    """Points and branches in the order current takes them; `supply` ends and `ground` begins at the starter motor.

    `supply_points` has one entry more than `supply`, likewise for ground.
    """

    supply_points: tuple[str, ...]
    supply: tuple[str, ...]
    starter: str
    ground_points: tuple[str, ...]
    ground: tuple[str, ...]


@lru_cache(maxsize=128)
def heavy_path(network: Network) -> HeavyPath:
    """Find the way of least resistance from plus post to starter and from its case to minus; SolveError without a starter."""
    starter = next((o for o in network.owners if isinstance(o, Starter)), None)
    if starter is None:
        raise SolveError(f"{network.sheet.title} has no starter, so there is no heavy path to follow")
    ways: nx.Graph = nx.Graph()
    for number, (owner, branch) in enumerate(zip(network.owners, network.branches, strict=True)):
        if branch.kind in (BranchKind.CONDUCTOR, BranchKind.SWITCH, BranchKind.CONTACT):
            ohm = float(network.nominal[network.value[number]])
            if not ways.has_edge(branch.start, branch.end) or ways.edges[branch.start, branch.end]["ohm"] > ohm:
                ways.add_edge(branch.start, branch.end, ohm=ohm, branch=branch_id(owner, branch))
    sheet = network.sheet
    try:
        supply = nx.shortest_path(ways, sheet.plus, starter.start, weight="ohm")
        ground = nx.shortest_path(ways, starter.end, sheet.minus, weight="ohm")
    except (nx.NetworkXNoPath, nx.NodeNotFound) as error:
        raise SolveError(f"{sheet.title}: the starter is not joined to both battery posts") from error

    def along(points: list[str]) -> tuple[str, ...]:
        return tuple(ways.edges[a, b]["branch"] for a, b in pairwise(points))

    return HeavyPath(tuple(supply), along(supply), starter.id, tuple(ground), along(ground))
