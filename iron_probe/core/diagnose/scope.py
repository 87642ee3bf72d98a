"""What a job is about: which operating states are tried, and which elements can be at fault for it."""

from enum import StrEnum

from iron_probe.core.circuit.elements import Alternator, Element, FieldRegulator, Rectifier, Solenoid, Starter, Stator
from iron_probe.core.circuit.sheet import Sheet

CHARGING_ELEMENTS = (Alternator, FieldRegulator, Rectifier, Stator)
CARRIES_A = 1e-3
"""An element that carries less than this [A] in every state of the work is at fault only where that changes how the machine charges."""

OFF_V = 0.45
"""Charging voltage this far [V of a 12 V machine] from what it should be brings a machine in (common practice)."""


class Scope(StrEnum):
    """Starting: engine standing or cranked. Charging: engine running, and key on before it."""

    STARTING = "starting"
    CHARGING = "charging"


def states_of(sheet: Sheet, work: Scope) -> tuple[str, ...]:
    """The states tried for a kind of work, in the sheet's order."""
    if work is Scope.STARTING:
        return tuple(name for name, state in sheet.states.items() if state.rpm == 0)
    still = [name for name, state in sheet.states.items() if state.rpm == 0 and not state.cranking][:2]
    return (*still, *sheet.running_states())


def can_be_guilty(element: Element, work: Scope) -> bool:
    """Whether an element can be at fault for a kind of work."""
    return not isinstance(element, CHARGING_ELEMENTS if work is Scope.STARTING else Starter | Solenoid)


def is_quiet(element: Element, work: Scope, most_a: float) -> bool:
    """Whether an element that carries at most `most_a` [A] in the work's states has nothing to do with it but by what it commands."""
    return work is Scope.CHARGING and not isinstance(element, CHARGING_ELEMENTS) and most_a <= CARRIES_A
