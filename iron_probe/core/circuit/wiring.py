"""The plain metal of a sheet: wires, cables, plugs, joints and grounds as a graph of its points."""

from itertools import pairwise

import networkx as nx

from iron_probe.core.circuit.elements import Conductor, Joint
from iron_probe.core.circuit.sheet import Sheet


def wiring_of(sheet: Sheet) -> "nx.Graph[str]":
    """Its points, joined by the conductors and joints between them; an edge names its `element`."""
    ways: nx.Graph[str] = nx.Graph()
    ways.add_nodes_from(sheet.points)
    ways.add_edges_from((e.start, e.end, {"element": e.id}) for e in sheet.elements if isinstance(e, Conductor | Joint))
    return ways


def passed(ways: "nx.Graph[str]", start: str, end: str) -> tuple[str, ...]:
    """Elements passed on the shortest way between two joined points, in order; NetworkXNoPath when they are not joined."""
    return tuple(ways.edges[a, b]["element"] for a, b in pairwise(nx.shortest_path(ways, start, end)))


def joined_to(ways: "nx.Graph[str]", point: str) -> "nx.Graph[str]":
    """What is one metal with a point."""
    return ways.subgraph(nx.node_connected_component(ways, point))
