"""How each kind of element fails: what changes in its parameters, how badly, and how often beside the others."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import Element, Positions, Tag
from iron_probe.core.circuit.faults import Around, Change, Fault
from iron_probe.core.circuit.network import Network
from iron_probe.core.circuit.stator_ways import ac_amps
from iron_probe.core.diagnose.scope import Scope, can_be_guilty, states_of
from iron_probe.core.errors import SolveError, unknown_name
from iron_probe.core.solve.operate import solve_state

TAG_FACTOR: dict[Tag, float] = {"exposed": 2.5, "aftermarket": 4.0, "recently_replaced": 1.5, "weak_point": 4.0}
"""How much likelier a tagged element is to be at fault (common practice, no source)."""


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

    `intermittent` faults are there in one moment and not in the next.
    """

    element: str
    name: str
    effects: tuple[Effect, ...]
    weight: float
    least: float = 1.0
    most: float = 1.0
    intermittent: bool = False

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
    return found


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
        intermittent=fault.intermittent,
    )  # fmt: skip
