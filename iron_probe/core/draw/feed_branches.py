"""The feed tree laid on its side: battery at the left, cables, fuses and plugs to the right, each branch as wide as its current."""

from dataclasses import dataclass

from iron_probe.core.bench.drain.currents import TOTAL, Currents
from iron_probe.core.bench.drain.feed_tree import FeedTree, Stretch

SHOWN = ("cable", "fuse", "link", "breaker", "plug")
"""Kinds of stretch drawn; wires, clamps, switches and contacts between them are left out."""
LEAST_W, MOST_W = 1.5, 15.0
"""Width of a branch without current, and of one that carries the whole total."""


@dataclass(frozen=True, slots=True, kw_only=True)
class BranchDrawn:
    """A branch: its label, column and row, the row of what feeds it, width, best amps [A], and whether it was read or carries the drain."""

    where: str
    label: str
    column: int
    row: float
    from_row: float
    width: float
    amps: float
    read: bool
    hot: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FeedDrawn:
    """All branches, and how many columns and rows they take."""

    branches: tuple[BranchDrawn, ...]
    columns: int
    rows: int


def draw_feed(tree: FeedTree, currents: Currents, read: frozenset[str], limit_a: float) -> FeedDrawn:
    """Lay it out: leaves evenly down the page in feed order, each feeder in the middle of what it feeds."""
    drawn = [s for s in tree.stretches if tree.element(s.branch).type in SHOWN and tree.behind[s.branch]]
    parent = {s.branch: _parent(tree, s, {d.branch for d in drawn}) for s in drawn}
    children: dict[str, list[Stretch]] = {}
    for s in drawn:
        children.setdefault(parent[s.branch], []).append(s)
    rows: dict[str, float] = {}
    depth: dict[str, int] = {}
    leaves = 0

    def place(name: str, column: int) -> float:
        nonlocal leaves
        depth[name] = column
        inside = [place(c.branch, column + 1) for c in children.get(name, [])]
        if inside:
            rows[name] = (inside[0] + inside[-1]) / 2
        else:
            rows[name] = float(leaves)
            leaves += 1
        return rows[name]

    place(TOTAL, 0)
    total = max(currents.total.best, limit_a)
    found = []
    for s in drawn:
        amps = currents.stretches[s.branch]
        share = min(amps.best / total, 1.0)
        found.append(
            BranchDrawn(
                where=s.branch, label=_label(tree, s), column=depth[s.branch], row=rows[s.branch], from_row=rows[parent[s.branch]],
                width=LEAST_W + (MOST_W - LEAST_W) * share**0.5 * (share > 0.004), amps=amps.best, read=s.branch in read,
                hot=amps.low > limit_a,
            )
        )  # fmt: skip
    return FeedDrawn(branches=tuple(found), columns=max(depth.values()) + 1, rows=leaves)


def _label(tree: FeedTree, stretch: Stretch) -> str:
    """Slot first, then what it is for: the end of a long title may be cut."""
    element = tree.element(stretch.branch)
    rest = element.title.replace(f" {element.slot}", "").replace(" fuse", "") if element.slot else element.title
    return f"{element.slot} {rest}" if element.slot else rest


def _parent(tree: FeedTree, stretch: Stretch, shown: set[str]) -> str:
    """The drawn stretch that feeds this one, or the battery."""
    above = [s.branch for s in tree.way_to(stretch.upper) if s.branch in shown]
    return above[-1] if above else TOTAL
