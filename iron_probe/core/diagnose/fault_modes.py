"""Every way the elements of a network fail that can be complained of at a kind of work."""

from collections.abc import Collection, Sequence
from functools import lru_cache

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import Element, Positions, Tag
from iron_probe.core.circuit.faults import Around, Fault
from iron_probe.core.circuit.network import Network
from iron_probe.core.circuit.stator_ways import ac_amps
from iron_probe.core.diagnose.evidence import OF_PART
from iron_probe.core.diagnose.fault_mode import Effect, FaultMode
from iron_probe.core.diagnose.fuse_blown import with_fuse_blown
from iron_probe.core.diagnose.scope import OFF_V, Scope, can_be_guilty, is_quiet, states_of
from iron_probe.core.errors import SolveError, unknown_name
from iron_probe.core.limits import FLOATING_OHM
from iron_probe.core.solve.operate import solve_as_drawn, solve_state
from iron_probe.core.solve.symptom import symptom_codes

TAG_FACTOR: dict[Tag, float] = {"exposed": 2.5, "aftermarket": 4.0, "recently_replaced": 1.5, "weak_point": 4.0}
"""How much likelier a tagged element is to be at fault (common practice, no source)."""

SHOWS_V, SHOWS_A = 0.03, 0.3
"""What a fault must move somewhere to be complained of: volts of a 12 V machine, or amps."""


def peak_currents(network: Network, states: Sequence[str]) -> Floats:
    """The most current [A] each branch carries in some states of the sound machine."""
    return np.max([np.abs(solve_as_drawn(network, s).amps[:, 0]) for s in states], axis=0)


def fault_modes(network: Network, work: Scope | None = None) -> list[FaultMode]:
    """Every fault mode of every element that can be guilty of a kind of work (None: of any), weighted by kind and tags."""
    return list(_modes(network, work))


@lru_cache(maxsize=64)
def _modes(network: Network, work: Scope | None) -> tuple[FaultMode, ...]:
    sheet = network.sheet
    states = states_of(sheet, work) if work else list(sheet.states)
    peaks = peak_currents(network, states)
    peak: dict[str, float] = {}
    for number, owner in enumerate(network.owners):
        peak[owner.id] = max(peak.get(owner.id, 0.0), float(peaks[number]))
    of_stator = ac_amps(sheet)
    peak |= of_stator

    def opened_in(positions: Positions) -> bool:
        return not all(sheet.in_position(positions, s) for s in sheet.states)

    found: list[FaultMode] = []
    for element in sheet.elements:
        factor = float(np.prod([TAG_FACTOR[t] for t in element.tags]))
        modes = [_mode(element, f, network.row, factor) for f in element.faults(Around(peak[element.id], opened_in))]
        cranks_nothing = work is Scope.STARTING and element.id in of_stator  # nor does what lies between a stator and its rectifier
        guilty = work is None or (can_be_guilty(element, work) and not cranks_nothing)
        found += [m for m in modes if guilty or m.blows]  # a dead short may be anywhere: it takes its fuse or the battery with it
    found = with_fuse_blown(network, found)
    if work is None:
        return tuple(found)
    quiet = {e.id for e in sheet.elements if is_quiet(e, work, peak[e.id])}
    return tuple(_that_show(network, states, found, quiet))


def find_mode(modes: list[FaultMode], element: str, name: str) -> FaultMode:
    """The mode of that name on that element; SolveError names those there are."""
    mine = [m for m in modes if m.element == element]
    for mode in mine:
        if mode.name == name:
            return mode
    if not mine:
        raise SolveError(unknown_name("element", element, sorted({m.element for m in modes})))
    raise SolveError(unknown_name(f"fault mode of {element}", name, [m.name for m in mine]))


def _mode(element: Element, fault: Fault, row: dict[tuple[str, str], int], factor: float) -> FaultMode:
    """A fault of an element as a mode of its network, weighted by the element's tags."""
    effects = tuple(Effect(row[a.owner or element.id, a.parameter], a.change, a.amount, a.power) for a in fault.altered)
    return FaultMode(
        element=element.id, name=fault.name, effects=effects, weight=fault.weight * factor, least=fault.least, most=fault.most,
        comes=fault.comes, blows=fault.blows,
    )  # fmt: skip


def _that_show(network: Network, states: Sequence[str], modes: list[FaultMode], quiet: Collection[str]) -> list[FaultMode]:
    """The modes that show somewhere in some states at their worst: on volts of points joined by metal, on amps, or in what is heard. A lamp
    that is never switched on there cannot be what is complained of, and nothing would ever clear it; nor can a part that is `quiet` there,
    such as a wire of a bus, but where it moves the volts at the posts as far as brings a machine in. What only a test of the part by itself shows stays."""
    if not modes:
        return modes
    worst = [m.put_in(network.nominal, np.array([m.worst_share])) for m in modes]
    values = np.concatenate([*worst, network.nominal[:, None]], axis=1)
    alone = {*OF_PART.values(), "uneven"}
    commands = np.array([m.element in quiet and not m.blows for m in modes])
    shows = ~commands & np.array([any(network.parameters[e.row][1] in alone for e in m.effects) for m in modes])
    limit_v = SHOWS_V * network.sheet.system_v / 12
    for state in states:
        shown = solve_state(network, state, values)
        heard, joined = symptom_codes(shown), shown.own_ohm < float(FLOATING_OHM)
        bad, sound = slice(0, -1), slice(-1, None)
        moved_v = np.abs(shown.volts[:, bad] - shown.volts[:, sound]) * (joined[:, bad] & joined[:, sound])
        moved_a = np.abs(shown.amps[:, bad] - shown.amps[:, sound])
        posts_v = shown.between(network.sheet.plus, network.sheet.minus)
        charges_otherwise = np.abs(posts_v[bad] - posts_v[sound]) > OFF_V * network.sheet.system_v / 12
        moved = (moved_v.max(axis=0) > limit_v) | (moved_a.max(axis=0) > SHOWS_A) | (heard[bad] != heard[sound])
        shows |= np.where(commands, charges_otherwise, moved)
    return [m for m, seen in zip(modes, shows, strict=True) if seen]
