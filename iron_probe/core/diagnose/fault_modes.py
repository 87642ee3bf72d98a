"""How each kind of element fails: what changes in its parameters, how badly, and how often beside the others."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import Element, Fuse, Positions, Tag
from iron_probe.core.circuit.faults import OPEN_OHM, Around, Change, Fault
from iron_probe.core.circuit.network import Network
from iron_probe.core.circuit.stator_ways import ac_amps
from iron_probe.core.diagnose.evidence import OF_PART
from iron_probe.core.diagnose.scope import Scope, can_be_guilty, states_of
from iron_probe.core.errors import SolveError, unknown_name
from iron_probe.core.limits import FLOATING_OHM
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.symptom import symptom_codes

TAG_FACTOR: dict[Tag, float] = {"exposed": 2.5, "aftermarket": 4.0, "recently_replaced": 1.5, "weak_point": 4.0}
"""How much likelier a tagged element is to be at fault (common practice, no source)."""

OPENS_SHARE, SLOW_OPENS_SHARE = 1.9, 3.5
"""Shares of its rating from which a blade, and a link, cartridge or breaker, opens while a state is held (ISO 8820-3 for blades, from memory)."""
SHOWS_V, SHOWS_A = 0.03, 0.3
"""What a fault must move somewhere to be complained of: volts of a 12 V machine, or amps."""


@dataclass(frozen=True, slots=True)
class Effect:
    """One changed parameter, by row; the severity is taken to the power `power` (0 for a fixed `amount`)."""

    row: int
    change: Change
    amount: float = 1.0
    power: float = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class FaultMode:
    """One way an element fails. Severity is log-uniform from `least` to `most` (both 1 when there is none); `weight` is relative.

    `intermittent` faults are there in one moment and not in the next; with one that `blows`, the fuse that feeds it is open too.
    """

    element: str
    name: str
    effects: tuple[Effect, ...]
    weight: float
    least: float = 1.0
    most: float = 1.0
    intermittent: bool = False
    blows: bool = False

    @property
    def graded(self) -> bool:
        """Whether the fault has a severity."""
        return self.most > self.least

    def severity(self, share: Floats) -> Floats:
        """Severities at shares 0..1 of the log range."""
        return self.least * (self.most / self.least) ** share

    def apply(self, values: Floats, severity: Floats) -> None:
        """Write the fault into `values` (parameters, V), one severity a column; the array given is changed."""
        for effect in self.effects:
            size = effect.amount * severity**effect.power
            if effect.change is Change.ADD:
                values[effect.row] += size
            elif effect.change is Change.SCALE:
                values[effect.row] *= size
            else:
                values[effect.row] = size


def peak_currents(network: Network, states: Sequence[str]) -> Floats:
    """The most current [A] each branch carries in some states of the sound machine."""
    return np.max([np.abs(solve_state(network, s).amps[:, 0]) for s in states], axis=0)


def fault_modes(network: Network, work: Scope | None = None) -> list[FaultMode]:
    """Every fault mode of every element that can be guilty of a kind of work (None: of any), weighted by kind and tags."""
    return list(_modes(network, work))


@lru_cache(maxsize=64)
def _modes(network: Network, work: Scope | None) -> tuple[FaultMode, ...]:
    peaks = peak_currents(network, states_of(network.sheet, work) if work else list(network.sheet.states))
    peak: dict[str, float] = {}
    for number, owner in enumerate(network.owners):
        peak[owner.id] = max(peak.get(owner.id, 0.0), float(peaks[number]))
    sheet = network.sheet
    of_stator = ac_amps(sheet)
    peak |= of_stator

    def opened_in(positions: Positions) -> bool:
        return not all(sheet.in_position(positions, s) for s in sheet.states)

    found: list[FaultMode] = []
    for element in sheet.elements:
        if work is not None and not can_be_guilty(element, work, peak[element.id]):
            continue
        if work is Scope.STARTING and element.id in of_stator:
            continue  # what lies between a stator and its rectifier cranks nothing
        factor = float(np.prod([TAG_FACTOR[t] for t in element.tags]))
        around = Around(peak[element.id], opened_in)
        found += [_mode(element, fault, network.row, factor) for fault in element.faults(around)]
    found = _with_fuse_blown(network, found)
    return tuple(found if work is None else _that_show(network, states_of(sheet, work), found))


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
        intermittent=fault.intermittent, blows=fault.blows,
    )  # fmt: skip


def _that_show(network: Network, states: Sequence[str], modes: list[FaultMode]) -> list[FaultMode]:
    """The modes that show somewhere in some states, at an end of their severities: on volts of points joined by metal, on amps, or in what is heard. A lamp
    that is never switched on there cannot be what is complained of, and nothing would ever clear it. What only a test of the part by itself
    shows stays."""
    if not modes:
        return modes
    values = np.concatenate([_at(network, m, share) for share in (0.0, 1.0) for m in modes], axis=1)
    alone = {*OF_PART.values(), "uneven"}
    shows = np.tile([any(network.parameters[e.row][1] in alone for e in m.effects) for m in modes], 2)
    limit_v = SHOWS_V * network.sheet.system_v / 12
    for state in states:
        sound, bad = solve_state(network, state), solve_state(network, state, values)
        joined = (bad.own_ohm < float(FLOATING_OHM)) & (sound.own_ohm < float(FLOATING_OHM))
        shows |= (np.abs(bad.volts - sound.volts) * joined).max(axis=0) > limit_v
        shows |= np.abs(bad.amps - sound.amps).max(axis=0) > SHOWS_A
        shows |= symptom_codes(bad) != symptom_codes(sound)
    return [m for k, m in enumerate(modes) if shows[k] or shows[len(modes) + k]]


def _at(network: Network, mode: FaultMode, share: float) -> Floats:
    """The machine (parameters, 1) with a fault at a share of its severities."""
    values = network.nominal[:, None].copy()
    mode.apply(values, mode.severity(np.array([share])))
    return values


def opens_share(fuse: Fuse) -> float:
    """The share of its rating from which a fuse opens while a state is held."""
    return SLOW_OPENS_SHARE if fuse.make in ("link", "cartridge", "maxi", "breaker") else OPENS_SHARE


def _with_fuse_blown(network: Network, modes: list[FaultMode]) -> list[FaultMode]:
    """The modes, every one that blows with the fuse open that it overloads most; those that overload none stay as they are."""
    blowing = [m for m in modes if m.blows]
    fuses = [(n, o.rating_a * opens_share(o)) for n, o in enumerate(network.owners) if isinstance(o, Fuse)]
    if not blowing or not fuses:
        return modes
    values = np.concatenate([_at(network, m, 0.5) for m in blowing], axis=1)
    carried = np.max([np.abs(solve_state(network, s, values).amps[[n for n, _ in fuses]]) for s in network.sheet.states], axis=0)
    loaded = carried / np.array([opens_a for _, opens_a in fuses])[:, None]
    opens = {}
    for k, mode in enumerate(blowing):
        worst = int(np.argmax(loaded[:, k]))
        if loaded[worst, k] > 1:
            row = network.row[network.owners[fuses[worst][0]].id, "r_ohm"]
            opens[mode.element, mode.name] = Effect(row, Change.SET, OPEN_OHM, 0.0)
    return [
        replace(m, effects=(*m.effects, opens[m.element, m.name])) if (m.element, m.name) in opens else m
        for m in modes
    ]  # fmt: skip
