"""The circuit asleep as a tree: which cable, box, fuse and plug each consumer draws through."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

import networkx as nx
import numpy as np

from iron_probe.core.circuit.elements import Alternator, Battery, BranchKind, Conductor, Element, Fuse, Joint, Rectifier, Stator, Switch
from iron_probe.core.circuit.network import Network, branch_id
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.circuit.wiring import wiring_of
from iron_probe.core.limits import DIODE_LEAK_A
from iron_probe.core.phrase import Phrase, Sentences
from iron_probe.core.solve.operate import solve_state

UNLISTED = "?"
"""Begins the name of what may hang at a point and is not drawn."""


class Draws(Sentences):
    """Why something could draw while the machine sleeps."""

    NO_SLEEP = Phrase("does not sleep")
    DIODES = Phrase("its diodes leak")
    TWO_DIODES = Phrase("two of its diodes or its regulator leak: one diode alone has no way back to minus")
    STUCK_FEED = Phrase("what feeds it sticks")
    ITSELF = Phrase("draws by itself")
    UNDRAWN = Phrase("a leak, or something the drawing does not show")
    BEHIND = Phrase("something behind it draws")


@dataclass(frozen=True, slots=True, kw_only=True)
class Consumer:
    """Something that can draw while the machine sleeps: `branch` of `element`, hanging at `point`; `usual_a` [A] what a sound one draws
    asleep, `awake_a` [A] what it draws when it will not sleep, `boxed` whether a fuse stands before it; `why` it could draw."""

    branch: str
    element: str
    point: str
    usual_a: float
    awake_a: float
    weight: float
    boxed: bool
    why: Draws

    @property
    def listed(self) -> bool:
        """Whether the drawing shows it."""
        return not self.branch.startswith(UNLISTED)


@dataclass(frozen=True, slots=True, kw_only=True)
class Stretch:
    """A piece of feed between two points, nearer the battery first: a cable, joint, fuse, plug, switch or contact."""

    branch: str
    element: str
    upper: str
    lower: str
    normally_closed: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class FeedTree:
    """Feeds from the plus post down, each stretch after the one that feeds it, and the consumers on them.

    `behind[branch]` are the numbers of the consumers a stretch carries; `two_way` the stretches another battery feeds from below, whose current
    is not that of what hangs behind them.
    """

    sheet: Sheet
    root: str
    stretches: tuple[Stretch, ...]
    consumers: tuple[Consumer, ...]
    behind: dict[str, frozenset[int]]
    two_way: frozenset[str] = frozenset()

    def element(self, branch: str) -> Element:
        return self.sheet.element(branch.partition(".")[0])

    def fuses(self) -> list[tuple[Stretch, Fuse]]:
        """Every fuse, link and breaker with where it lies."""
        found = ((s, self.element(s.branch)) for s in self.stretches)
        return [(s, e) for s, e in found if isinstance(e, Fuse)]

    def plugs(self) -> list[Stretch]:
        """Everything that parts by hand: plugs."""
        return [s for s in self.stretches if self.element(s.branch).type == "plug"]

    def main_cables(self) -> list[Stretch]:
        """The first cables that share out the current: where a clamp splits the machine."""
        below: dict[str, list[Stretch]] = {}
        for s in self.stretches:
            below.setdefault(s.upper, []).append(s)
        point = self.root
        while len(below.get(point, [])) == 1:
            point = below[point][0].lower
        return [s for s in below.get(point, []) if isinstance(self.element(s.branch), Conductor | Fuse)]

    def way_to(self, point: str) -> list[Stretch]:
        """The stretches from the battery to a point."""
        above = {s.lower: s for s in self.stretches}
        way: list[Stretch] = []
        while point in above:
            way.insert(0, above[point])
            point = above[point].upper
        return way

    def members(self, where: str) -> frozenset[int]:
        """Numbers of the consumers that a stretch carries, or of the one consumer that is named."""
        return self.behind[where] if where in self.behind else frozenset({self.consumer_at(where)})

    def consumer_at(self, branch: str) -> int:
        """Number of the consumer of that branch."""
        return next(k for k, c in enumerate(self.consumers) if c.branch == branch)


AWAY_WEIGHT = {"module": 1.0, "relay": 0.6, "switch": 0.5, "leak": 0.25, "diode": 0.5}
"""How often each kind is the drain (common practice: what does not sleep first, then what sticks, then what leaks)."""
NO_WAY_BACK = 0.3
"""Weight of a rectifier whose shorted diode alone has no way to minus: two of a leg must be gone, or its regulator leaks (common practice)."""


@lru_cache(maxsize=64)
def feed_tree(network: Network) -> FeedTree:
    """Read the tree off a circuit, in the first state of its sheet: key off, all at rest."""
    sheet = network.sheet
    state = next(iter(sheet.states))
    closed = network.closed_in(state)
    ground = _grounded(sheet)
    ways: nx.Graph[str] = nx.Graph()
    for number, (owner, branch) in enumerate(zip(network.owners, network.branches, strict=True)):
        conducts = isinstance(owner, Conductor | Joint | Fuse) or branch.kind in (BranchKind.SWITCH, BranchKind.CONTACT)
        if not conducts or owner.type == "load" or branch.start in ground or branch.end in ground:
            continue
        makes = bool(closed[number]) and (branch.kind is not BranchKind.CONTACT or branch.rest)
        weight = 1.0 if makes else 50.0
        if not ways.has_edge(branch.start, branch.end) or ways.edges[branch.start, branch.end]["weight"] > weight:
            ways.add_edge(branch.start, branch.end, weight=weight, branch=branch_id(owner, branch), element=owner.id, makes=makes)
    root = sheet.plus
    ways.add_node(root)
    far, paths = nx.single_source_dijkstra(ways, root)
    above = {point: path[-2] for point, path in paths.items() if len(path) > 1}
    stretches = []
    for point in sorted(above, key=lambda p: (far[p], p)):
        edge = ways.edges[above[point], point]
        stretches.append(
            Stretch(branch=edge["branch"], element=edge["element"], upper=above[point], lower=point, normally_closed=edge["makes"])
        )
    consumers = (*_consumers(network, set(far), ground, tuple(stretches), state), *_unlisted(sheet, root, tuple(stretches)))
    above_stretch = {s.lower: s for s in stretches}
    behind: dict[str, set[int]] = {s.branch: set() for s in stretches}
    for number, consumer in enumerate(consumers):
        point = consumer.point
        while point in above_stretch:
            behind[above_stretch[point].branch].add(number)
            point = above_stretch[point].upper
    return FeedTree(
        sheet=sheet,
        root=root,
        stretches=tuple(stretches),
        consumers=consumers,
        behind={k: frozenset(v) for k, v in behind.items()},
        two_way=frozenset(_towards_batteries(sheet, above_stretch)),
    )


def _towards_batteries(sheet: Sheet, above: dict[str, Stretch]) -> Iterator[str]:
    """The stretches between the root and the posts of further batteries."""
    for battery in sheet.batteries:
        point = battery.end
        while point in above:
            yield above[point].branch
            point = above[point].upper


def _grounded(sheet: Sheet) -> set[str]:
    """Points joined to battery minus by conductors alone; a master switch in the minus side counts as closed."""
    ways = wiring_of(sheet)
    ways.add_edges_from((e.start, e.end) for e in sheet.elements if isinstance(e, Switch) and e.role == "isolator")
    return nx.node_connected_component(ways, sheet.minus) - nx.node_connected_component(ways, sheet.plus)


def _consumers(network: Network, fed: set[str], ground: set[str], stretches: tuple[Stretch, ...], state: str) -> Iterator[Consumer]:
    """Everything with one end on the feed side and the other away from it, in the sheet's order; then the wires that could leak.

    A consumer behind an open switch or contact draws when that sticks: its weight is that of what would have to stick.
    """
    sound = solve_state(network, state)
    above = {s.lower: s for s in stretches}
    volts = float(sound.between(network.sheet.plus, network.sheet.minus)[0])

    def way(point: str) -> list[Stretch]:
        found = []
        while point in above:
            found.append(above[point])
            point = above[point].upper
        return found

    for number, (owner, branch) in enumerate(zip(network.owners, network.branches, strict=True)):
        ends = (branch.start, branch.end)
        if isinstance(owner, Battery | Stator | Conductor | Joint | Fuse) or (
            branch.kind in (BranchKind.SWITCH, BranchKind.CONTACT) and owner.type != "load"
        ):
            continue
        near = next((p for p in ends if p in fed and p not in ground), None)
        if near is None or all(p in fed and p not in ground for p in ends):
            continue
        if branch.kind in (BranchKind.EXCITER, BranchKind.TRIO, BranchKind.OUTPUT) or (branch.name or "").startswith("in"):
            continue
        if owner.type in ("starter", "solenoid"):
            continue  # were they fed, it would crank
        usual = abs(float(sound.amps[number, 0]))
        on_way = way(near)
        sticks = [s for s in on_way if not s.normally_closed]
        if len(sticks) > 2:
            continue  # several things would have to stick at once
        ohm = float(network.nominal[network.value[number]])
        awake = max(volts / ohm, usual)
        why, weight = _why(owner, branch.kind, bool(sticks), network)
        if branch.kind is BranchKind.SOURCE:
            awake = DIODE_LEAK_A
        boxed = any(network.sheet.element(s.element).type in ("fuse", "link", "breaker") for s in on_way)
        if isinstance(owner, Rectifier) and not _way_back(network, owner):
            why, weight = Draws.TWO_DIODES, weight * NO_WAY_BACK
        factor = 3.0 if set(owner.tags) & {"aftermarket", "weak_point"} else 1.0
        yield Consumer(
            branch=branch_id(owner, branch), element=owner.id, point=near, usual_a=usual, awake_a=awake,
            weight=weight * factor * 0.5 ** max(len(sticks) - 1, 0), boxed=boxed, why=why,
        )  # fmt: skip


def _unlisted(sheet: Sheet, root: str, stretches: tuple[Stretch, ...]) -> Iterator[Consumer]:
    """A leak or something the sheet does not show, behind the battery and behind every fuse, plug and heavy cable."""
    kinds = ("fuse", "link", "breaker", "plug", "cable")
    seats = [(root, "", 0.5), *((s.lower, s.element, 1.0) for s in stretches if sheet.element(s.element).type in kinds)]
    fused: set[str] = set()
    for s in stretches:  # in order from the battery: what hangs behind a fuse is fused, and all below it
        if s.upper in fused or sheet.element(s.element).type in ("fuse", "link", "breaker"):
            fused.add(s.lower)
    for point, element, share in seats:
        exposed = bool(element) and "exposed" in sheet.element(element).tags
        yield Consumer(
            branch=f"{UNLISTED}{point}", element=element, point=point, usual_a=0.0, awake_a=0.3, boxed=point in fused,
            weight=AWAY_WEIGHT["leak"] * share * (2.0 if exposed else 1.0), why=Draws.UNDRAWN,
        )  # fmt: skip


def _why(owner: Element, kind: BranchKind, sticks: bool, network: Network) -> tuple[Draws, float]:
    if kind is BranchKind.DRAW:
        return Draws.NO_SLEEP, AWAY_WEIGHT["module"]
    if isinstance(owner, Alternator | Rectifier):
        return Draws.DIODES, AWAY_WEIGHT["diode"]
    if sticks:
        return Draws.STUCK_FEED, AWAY_WEIGHT["relay"]
    return Draws.ITSELF, AWAY_WEIGHT["switch"]


def _way_back(network: Network, rectifier: Rectifier) -> bool:
    """Whether a shorted diode of a rectifier has a way to minus: only through a grounded star."""
    stator = network.sheet.element(rectifier.stator)
    return isinstance(stator, Stator) and stator.star_grounded


def usual_total_a(tree: FeedTree) -> float:
    """What the sound machine draws asleep [A]."""
    return float(np.sum([c.usual_a for c in tree.consumers]))
