"""A found part drawn in its line: what lies before it from battery plus and behind it to battery minus, as the current takes it."""

from collections.abc import Sequence
from itertools import pairwise

import networkx as nx

from iron_probe.core.circuit.elements import BranchKind, Lamp, Load
from iron_probe.core.circuit.network import Network

NEAR = 3
"""Elements shown on either side of what was found."""
ALONG = frozenset({BranchKind.CONDUCTOR, BranchKind.SWITCH, BranchKind.CONTACT, BranchKind.OUTPUT})


def line_through(network: Network, found: Sequence[str]) -> tuple[str, ...]:
    """Elements in a row: at most `NEAR` before the first found part, the found ones with what joins them, and at most `NEAR` behind the last; the
    found parts alone where no line passes them."""
    sheet, ways = network.sheet, nx.Graph()
    for owner, branch in zip(network.owners, network.branches, strict=True):
        if branch.kind in ALONG and not isinstance(owner, Load | Lamp):
            ways.add_edge(branch.start, branch.end, element=owner.id)
    ends = [tuple(sheet.element(e).points()[:2]) for e in found]
    if any(len(pair) < 2 or pair[0] not in ways or pair[1] not in ways for pair in ends):
        return tuple(found)
    inside = [p for pair in ends for p in pair]
    first = min(inside, key=lambda p: _far(ways, sheet.plus, p))
    last = min((p for p in inside if p != first), key=lambda p: _far(ways, sheet.minus, p))
    between = _passed(ways, first, last)
    middle = between if set(found) <= set(between) and len(between) <= 2 * len(found) else list(found)
    before = [e for e in _passed(ways, sheet.plus, first) if e not in middle]
    behind = [e for e in _passed(ways, last, sheet.minus) if e not in (*middle, *before)]
    return (*before[-NEAR:], *middle, *behind[:NEAR])


def _far(ways: "nx.Graph[str]", start: str, end: str) -> float:
    return nx.shortest_path_length(ways, start, end) if start in ways and end in ways and nx.has_path(ways, start, end) else float("inf")


def _passed(ways: "nx.Graph[str]", start: str, end: str) -> list[str]:
    """Elements on the shortest way, each once; none where there is none."""
    if _far(ways, start, end) == float("inf"):
        return []
    path = nx.shortest_path(ways, start, end)
    return list(dict.fromkeys(ways.edges[a, b]["element"] for a, b in pairwise(path)))
