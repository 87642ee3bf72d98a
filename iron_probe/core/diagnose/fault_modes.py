"""How each kind of element fails: what changes in its parameters, how badly, and how often beside the others."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from iron_probe.core.circuit.elements import (
    Alternator,
    Battery,
    Conductor,
    Diode,
    Element,
    FieldRegulator,
    Fuse,
    Joint,
    Lamp,
    Load,
    Module,
    Rectifier,
    Relay,
    Solenoid,
    Starter,
    Stator,
    Switch,
    Tag,
)
from iron_probe.core.circuit.network import LEAK, SUPPLY_LEAK, Floats, Network
from iron_probe.core.diagnose.scope import Scope, can_be_guilty, states_of
from iron_probe.core.errors import SolveError, unknown_name
from iron_probe.core.solve.operate import solve_state

OPEN_OHM = 1e9
"""Resistance that stands for an open circuit [Ω]."""

LEAST_LOSS_V = 0.25
"""A high resistance is called a fault from this loss [V] at the most current the element carries in a sound machine."""

SEVEREST = 3e4
"""The worst high resistance, as a multiple of the least: beyond it, open."""

ONE_DIODE_OPEN, ONE_DIODE_SHORTED = (0.70, 5.4), (0.48, 5.4)
"""Share of the charging current a bridge has left with one diode out, and its ripple against a sound one's (ngspice transient of a
bridge into a battery, tests/outside/test_three_phase_bridge.py)."""
WRONG_RATING = 0.4
"""Resistance of a fuse fitted two sizes too large, as a share of the right one's (blade fuse datasheets, from memory)."""

TAG_FACTOR: dict[Tag, float] = {"exposed": 2.5, "aftermarket": 4.0, "recently_replaced": 1.5, "weak_point": 4.0}
"""How much likelier a tagged element is to be at fault (common practice, no source)."""


RESISTIVE_MODES = frozenset({"high_resistance", "contact_resistive", "contact_burnt"})
"""Faults that are a resistance in the way: a drop across the part under load proves them."""
DIODE_MODES = frozenset({"diode_open", "diode_shorted"})
"""Faults of one diode of a bridge: ripple proves them."""


class Change(StrEnum):
    """What a fault does to a parameter: `ADD` and `SCALE` by the severity, `SET` to it."""

    ADD = "add"
    SCALE = "scale"
    SET = "set"


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
    found = []
    for element in network.sheet.elements:
        if work is not None and not can_be_guilty(element, work, peak[element.id]):
            continue
        factor = float(np.prod([TAG_FACTOR[t] for t in element.tags]))
        for mode in _of(element, network, peak[element.id]):
            weighted = FaultMode(
                element=mode.element, name=mode.name, effects=mode.effects, weight=mode.weight * factor,
                least=mode.least, most=mode.most, intermittent=mode.intermittent,
            )  # fmt: skip
            found.append(weighted)
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


def _bridge_fault(
    element: str, name: str, weight: float, row: dict[tuple[str, str], int], output: str, left: float, ripple: float
) -> FaultMode:
    """A diode of a bridge: `left` of its output remains, `ripple` times the ripple of a sound one."""
    effects = (Effect(row[element, output], Change.SCALE, left, 0.0), Effect(row[element, "ripple_v"], Change.SCALE, ripple, 0.0))
    return FaultMode(element=element, name=name, effects=effects, weight=weight)


def _of(element: Element, network: Network, peak_a: float) -> Iterator[FaultMode]:
    row = network.row

    def mode(name: str, weight: float, *effects: Effect, least: float = 1.0, most: float = 1.0, intermittent: bool = False) -> FaultMode:
        return FaultMode(element=element.id, name=name, effects=effects, weight=weight, least=least, most=most, intermittent=intermittent)

    def resistive(parameter: str, weight: float, name: str = "high_resistance") -> FaultMode:
        least = LEAST_LOSS_V / max(peak_a, 1e-4)
        return mode(name, weight, Effect(row[element.id, parameter], Change.ADD), least=least, most=least * SEVEREST)

    def fixed(name: str, weight: float, parameter: str, amount: float, owner: str = "") -> FaultMode:
        return mode(name, weight, Effect(row[owner or element.id, parameter], Change.SET, amount, 0.0))

    def leak(point: str, kind: str, name: str, weight: float, least_s: float, most_s: float) -> FaultMode:
        return mode(name, weight, Effect(row[point, kind], Change.ADD), least=least_s, most=most_s)

    match element:
        case Battery():
            yield mode(
                "flat",
                3.0,
                Effect(row[element.id, "emf_v"], Change.SCALE, 1.0, -0.09),
                Effect(row[element.id, "r_ohm"], Change.SCALE, 1.0, 0.8),
                least=1.35,
                most=2.6,
            )
            yield mode("worn", 3.0, Effect(row[element.id, "r_ohm"], Change.SCALE), least=2.0, most=12.0)
            yield mode("low_capacity", 1.0, Effect(row[element.id, "capacity_ah"], Change.SCALE), least=0.05, most=0.6)
            yield mode(
                "dead_cell",
                1.0,
                Effect(row[element.id, "emf_v"], Change.ADD, -2.05, 0.0),
                Effect(row[element.id, "r_ohm"], Change.SCALE, 1.0, 1.0),
                least=1.2,
                most=2.5,
            )
        case Joint():
            yield resistive("r_ohm", 2.0)
            yield fixed("open", 0.6, "r_ohm", OPEN_OHM)
            yield mode("intermittent", 0.3, Effect(row[element.id, "r_ohm"], Change.SET, OPEN_OHM, 0.0), intermittent=True)
        case Conductor():
            yield resistive("r_ohm", 0.3 if element.type == "frame" else 1.0)
            if element.type != "frame":
                yield fixed("open", 0.8, "r_ohm", OPEN_OHM)
            if element.type == "wire":
                yield leak(element.end, SUPPLY_LEAK, "shorted_to_supply", 0.15, 0.3, 30.0)
        case Fuse():
            yield fixed("open", 2.0, "r_ohm", OPEN_OHM)
            yield resistive("r_ohm", 0.7)
            yield mode("wrong_rating", 0.1, Effect(row[element.id, "r_ohm"], Change.SCALE, WRONG_RATING, 0.0))
        case Switch():
            yield fixed("stuck_open", 1.2, "stuck", -1.0)
            yield resistive("r_ohm", 1.2)
            if element.closed_in and not all(network.sheet.in_position(element.closed_in, s) for s in network.sheet.states):
                yield fixed("stuck_closed", 0.4, "stuck", 1.0)
        case Relay():
            yield fixed("coil_open", 0.7, "coil_ohm", OPEN_OHM)
            yield fixed("contact_open", 1.0, "stuck", -1.0)
            yield fixed("contact_welded", 0.5, "stuck", 1.0)
            yield resistive("contact_ohm", 1.0, "contact_resistive")
        case Solenoid():
            yield mode(
                "coil_open",
                0.6,
                Effect(row[element.id, "hold_ohm"], Change.SET, OPEN_OHM, 0.0),
                Effect(row[element.id, "pull_ohm"], Change.SET, OPEN_OHM, 0.0),
            )
            yield fixed("contact_open", 0.8, "stuck", -1.0)
            yield fixed("contact_welded", 0.3, "stuck", 1.0)
            yield resistive("contact_ohm", 1.5, "contact_burnt")
        case Starter():
            yield fixed("open", 1.1, "r_ohm", OPEN_OHM)
            yield mode("dead_spot", 0.4, Effect(row[element.id, "r_ohm"], Change.SET, OPEN_OHM, 0.0), intermittent=True)
            yield mode("dragging", 1.5, Effect(row[element.id, "load_a"], Change.SCALE), least=1.35, most=3.0)
        case Module():
            yield fixed("dead", 0.8, "dead", 1.0)
            yield fixed("stays_awake", 0.4, "wakeful", 1.0)
            for output in element.outputs:
                yield fixed(f"{output.name}_stuck_off", 0.6, f"{output.name}_stuck", -1.0)
                yield fixed(f"{output.name}_stuck_on", 0.2, f"{output.name}_stuck", 1.0)
        case Alternator():
            yield fixed("no_output", 1.4, "stuck", -1.0)
            yield fixed("full_on", 0.5, "stuck", 1.0)
            if element.bus:  # a replacement that does not match the module
                yield fixed("never_answers", 0.5, "deaf", 1.0)
            yield mode("worn", 0.5, Effect(row[element.id, "windings"], Change.SCALE), least=0.1, most=0.55)
            yield mode("belt_slips", 0.7, Effect(row[element.id, "slip"], Change.SCALE), least=0.2, most=0.6)
            yield _bridge_fault(element.id, "diode_open", 0.6, row, "windings", *ONE_DIODE_OPEN)
            yield _bridge_fault(element.id, "diode_shorted", 0.5, row, "windings", *ONE_DIODE_SHORTED)
        case FieldRegulator():
            yield fixed("dead", 1.5, "stuck", -1.0)
            yield fixed("full_on", 0.7, "stuck", 1.0)
        case Rectifier():
            yield fixed("no_output", 1.5, "stuck", -1.0)
            yield fixed("full_on", 0.6, "stuck", 1.0)
            yield _bridge_fault(element.id, "diode_open", 0.8, row, "bridge", *ONE_DIODE_OPEN)
            yield _bridge_fault(element.id, "diode_shorted", 0.8, row, "bridge", *ONE_DIODE_SHORTED)
        case Stator():
            for k in (1, 2, 3):
                yield mode(
                    f"phase_{k}_open", 0.5, Effect(row[element.id, f"w{k}_ohm"], Change.SET, OPEN_OHM, 0.0), Effect(row[element.id, "windings"], Change.SCALE, 0.5, 0.0),
                )  # fmt: skip
                yield mode(
                    f"phase_{k}_turns", 0.4, Effect(row[element.id, f"w{k}_ohm"], Change.SCALE), Effect(row[element.id, f"e{k}"], Change.SCALE),
                    Effect(row[element.id, "windings"], Change.SCALE, 1.0, 0.7), least=0.3, most=0.8,
                )  # fmt: skip
            yield mode(
                "to_ground", 0.5, Effect(row[element.id, "earth_ohm"], Change.SET, 1.0, 1.0), Effect(row[element.id, "windings"], Change.SCALE, 0.45, 0.0),
                least=0.2, most=200.0,
            )  # fmt: skip
        case Load() | Lamp():
            yield fixed("open", 0.5, "r_ohm", OPEN_OHM)
        case Diode():
            yield fixed("open", 0.4, "r_ohm", OPEN_OHM)
            yield fixed("shorted", 0.5, "forward_v", 0.001)
    if element.type in ("wire", "plug") and not isinstance(element, Module):
        yield leak(element.points()[-1], LEAK, "leak_to_ground", 0.3, 0.003, 0.5)
