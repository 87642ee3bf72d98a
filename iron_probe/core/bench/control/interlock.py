"""The chain that must agree before the starter turns, in the order the command takes."""

from dataclasses import dataclass

import networkx as nx
import numpy as np

from iron_probe.core.circuit.elements import BranchKind, Element, Joint, Module, Relay, Solenoid, Switch
from iron_probe.core.circuit.network import Network, SheetKey
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.kept import Kept
from iron_probe.core.phrase import Phrase, together
from iron_probe.core.solve.operate import solve_state

FAR = 10_000
CHAIN_ROLES = ("isolator", "ignition", "start", "interlock")


@dataclass(frozen=True, slots=True, kw_only=True)
class Link:
    """A link of the chain: `share` left of it as a suspect (None before anything is weighed), `cleared_by` the reading that struck it out."""

    element: Element
    wants: str
    share: float | None
    cleared_by: int | None
    found: bool

    @property
    def word(self) -> str:
        if self.found:
            return "found"
        if self.cleared_by is not None:
            return "proven"
        return Phrase("not yet tested") if self.share is None or self.share < 0.25 else "suspect"


def chain_of(network: Network, posterior: Posterior | None) -> list[Link]:
    """Switches, modules and relays of the starting side by their distance from battery plus, with what is proven of each.

    What a link wants of the operator is named from its controls; an alarm or immobiliser splice shows where it lies.
    """
    parts = _ordered.get(SheetKey(network.sheet), lambda: _in_order(network))
    return [_link(e, network, posterior) for e in parts]


_ordered: Kept[SheetKey, tuple[Element, ...]] = Kept("interlock chains", 128)


def _in_order(network: Network) -> tuple[Element, ...]:
    """The parts of the chain in the order the command takes."""
    sheet = network.sheet
    ways: nx.Graph = nx.Graph()
    for branch in network.branches:
        if branch.kind in (BranchKind.CONDUCTOR, BranchKind.SWITCH, BranchKind.CONTACT) and sheet.minus not in (branch.start, branch.end):
            ways.add_edge(branch.start, branch.end)
    for element in sheet.elements:  # a command passes through a module from what it needs to what it drives
        if isinstance(element, Module):
            for output in element.outputs:
                ends = [b for b in element.branches() if b.name == output.name]
                ways.add_edges_from((need.point, end) for need in output.needs for b in ends for end in (b.start, b.end))
    far = nx.single_source_shortest_path_length(ways, sheet.plus)
    answering = _answer_to_crank(network)
    wanted = [e for e in sheet.elements if _in_chain(e, network, answering)]
    listed = {e.id: n for n, e in enumerate(sheet.elements)}
    crank = sheet.cranking_state() or next(iter(sheet.states))
    volts = dict(zip(network.points, solve_state(network, crank).volts[:, 0], strict=True))

    def place(element: Element) -> tuple[int, int]:
        inputs = tuple(element.points())
        if isinstance(element, Relay):  # where the command comes in, not where the power does
            inputs = (max(element.coil, key=lambda p: float(volts[p])),)
        elif isinstance(element, Solenoid):
            return FAR + 1, listed[element.id]  # the last of all to move
        elif isinstance(element, Module):
            inputs = tuple(n.point for o in element.outputs for n in o.needs) or (element.supply,)
        return min((far.get(p, FAR) for p in inputs), default=FAR), listed[element.id]

    return tuple(sorted(wanted, key=place))


def _answer_to_crank(network: Network) -> set[str]:
    """Relays, solenoids and modules that move for the crank command: a contact or output of theirs is closed while the sound machine
    cranks and open with the key off and on."""
    sheet = network.sheet
    crank = sheet.cranking_state()
    if crank is None:
        return set()
    still = [name for name in states_of(sheet, Scope.STARTING) if not sheet.states[name].cranking][:2]
    closed = solve_state(network, crank).closed[:, 0]
    before = np.any([solve_state(network, name).closed[:, 0] for name in still], axis=0)
    kinds = (BranchKind.CONTACT, BranchKind.OUTPUT)
    return {
        o.id
        for n, (o, b) in enumerate(zip(network.owners, network.branches, strict=True))
        if b.kind in kinds and closed[n] and not before[n]
    }


def _in_chain(element: Element, network: Network, answering: set[str]) -> bool:
    if "aftermarket" in element.tags and isinstance(element, Joint):  # an alarm or accessory splice may sit in any command wire
        return True
    if isinstance(element, Switch):
        crank = network.sheet.cranking_state()
        return element.role in CHAIN_ROLES and (crank is None or network.sheet.in_position(element.closed_in, crank))
    return element.id in answering


def _link(element: Element, network: Network, posterior: Posterior | None) -> Link:
    wants = ""
    if isinstance(element, Switch):
        controls = network.sheet.controls
        wants = together([f"{controls[c].title} " + together(p, " / ") for c, p in element.closed_in.items()])
    share = posterior.share(element.id) if posterior else None
    struck = next((s.by_reading for s in posterior.eliminated if s.element == element.id), None) if posterior else None
    return Link(element=element, wants=wants, share=share, cleared_by=struck, found=bool(posterior and posterior.found == element.id))
