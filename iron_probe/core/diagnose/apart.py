"""When no test on the points tells the suspects left from each other: the way they make up, and which access would tell them apart."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import networkx as nx
import numpy as np

from iron_probe.core.circuit.elements import BranchKind, Conductor, Fuse, Joint
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.altered import bridged
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.outcomes import information_bits
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.unplugged import MOST_OHM, shown_alone

TIED_SHARE = 0.15
"""A suspect with this share is one of those that cannot be told apart."""
WAY_SHARE, IN_THE_WAY = 0.85, 0.02
"""What suspects in one line must hold together for their way to be found, and what one of them must hold to be part of it."""
EACH = 24
"""Variants of each tied suspect the access is weighed on."""
WORTH_BITS = 0.1
"""Access that tells less than this is not worth opening the machine for."""
DECADE = 2.0
"""Steps per decade of ohms that a meter on a lead through a plug still tells apart (common practice)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Access:
    """A test outside the usual ones that would tell tied suspects apart; `reading` without its value, `bits` expected, `element` it is made on."""

    element: str
    reading: Reading
    bits: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FoundWay:
    """Conductors in one line that no test tells apart, in their order, with the points at its two ends and what they hold together: the fault
    is in one of them."""

    elements: tuple[str, ...]
    first: str
    last: str
    share: float


def way_found(posterior: Posterior, sheet: Sheet, readings: Sequence[Reading]) -> FoundWay | None:
    """The way that is found when no test is left: suspects in one line with the leading one, all faulty in its manner, with a reading from one of its
    ends to the other; None where there is none."""
    if posterior.settled or posterior.unexplained or posterior.pair or not posterior.suspects:
        return None
    leader = posterior.suspects[0]
    share = {s.element: s.p for s in posterior.suspects if s.p > IN_THE_WAY and s.mode == leader.mode}
    ways = nx.Graph()
    for name in share:
        element = sheet.element(name)
        if isinstance(element, Conductor | Joint | Fuse):
            ways.add_edge(*element.points(), element=name)
    mine = next(
        (ways.subgraph(part) for part in nx.connected_components(ways) if set(sheet.element(leader.element).points()) <= part), None
    )
    ends = [] if mine is None else sorted(p for p, degree in mine.degree if degree == 1)
    if mine is None or len(mine.edges) < 2 or len(ends) != 2 or max(degree for _, degree in mine.degree) > 2:
        return None
    line = nx.shortest_path(mine, *ends)
    elements = tuple(mine.edges[a, b]["element"] for a, b in pairwise(line))
    held = min(sum(share[e] for e in elements), 1.0)
    read = any({r.red, r.black} == set(ends) for r in readings)
    return FoundWay(elements=elements, first=ends[0], last=ends[1], share=held) if read and held >= WAY_SHARE else None


def tied(posterior: Posterior) -> list[str]:
    """The suspects that share what is left, when there are several and none is found."""
    left = [s.element for s in posterior.suspects if s.p > TIED_SHARE]
    return left if posterior.found is None and len(left) > 1 else []


def access_that_tells(case: Case, posterior: Posterior, readings: Sequence[Reading]) -> Access | None:
    """Ohms across one of the tied suspects with its plug off, or a jumper across it: the one that tells most; None when none does."""
    ensemble = case.ensemble
    network = ensemble.network
    elements = tied(posterior)
    if not elements:
        return None
    chosen, labels = [], []
    for label, element in enumerate(elements):
        mine = (ensemble.accusing[element][:, None] * ensemble.size + np.arange(ensemble.size)).ravel()
        weights = np.cumsum(posterior.weights[mine])
        if weights[-1] > 0:
            chosen.append(mine[np.searchsorted(weights, (np.arange(EACH) + 0.5) / EACH * weights[-1])])
            labels += [label] * EACH
    machines = ensemble.values_at(np.concatenate(chosen))
    state = readings[-1].state if readings else ensemble.states[0]
    best: Access | None = None
    for element in elements:
        for branch in network.sheet.element(element).branches():
            if branch.kind not in (BranchKind.CONDUCTOR, BranchKind.SWITCH, BranchKind.CONTACT):
                continue
            leads = {"red": branch.start, "black": branch.end}
            ohms = Reading(instrument=Instrument.OHMMETER, state=state, value=0.0, **leads)
            jumper = Reading(instrument=Instrument.JUMPER, state=state, word="nothing", **leads)
            seen = {
                ohms: np.floor(DECADE * np.log10(np.clip(shown_alone(network, ohms, machines.__getitem__), 0.1, MOST_OHM))),
                jumper: bridged(ensemble.network, jumper, machines)[0],
            }
            for reading, outcome in seen.items():
                bits = float(information_bits(outcome[None].astype(np.int32), np.array(labels))[0])
                if bits > max(WORTH_BITS, best.bits + 1e-9 if best else 0.0):
                    best = Access(element=element, reading=reading, bits=bits)
    return best
