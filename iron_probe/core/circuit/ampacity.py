"""What cables and fuses of a sound machine may carry: a check that a sheet's sizes belong to its loads."""

from dataclasses import dataclass

from iron_probe.core.circuit.conductors import awg_area_mm2
from iron_probe.core.circuit.elements import Conductor, Element, Fuse
from iron_probe.core.circuit.tables import along

CARRIES_A: dict[float, float] = {
    0.35: 5, 0.5: 8, 0.75: 11, 1: 14, 1.5: 18, 2.5: 25, 4: 34, 6: 44, 10: 60, 16: 82, 25: 108, 35: 135, 50: 168, 70: 207, 95: 250, 120: 290,
}  # fmt: skip
"""Lasting current [A] of a single copper cable in free air by its size [mm²] (vehicle cable tables, from memory)."""
CRANKS = 6.0
"""For the seconds of a crank a cable and a fuse carry so many times their lasting current (common practice)."""
FUSE_SHARE = 0.9
"""A fuse lasts at this share of its rating (0.75 to 0.9: common practice)."""


@dataclass(frozen=True, slots=True)
class Overload:
    """An element that carries `amps` where it lasts at `allowed_a` [A]."""

    element: str
    amps: float
    allowed_a: float


def cable_carries_a(area_mm2: float) -> float:
    """Lasting current [A] of a cable of that size [mm², above 0]; between and beyond the table along a log-log line."""
    return along(CARRIES_A, area_mm2)


def overload(element: Element, amps: float, cranking: bool) -> Overload | None:
    """Whether an element carries more than it lasts at; None when it does not, or has no size to be judged by."""
    if isinstance(element, Fuse):
        allowed = element.rating_a * FUSE_SHARE
    elif isinstance(element, Conductor) and (element.mm2 is not None or element.awg is not None):
        allowed = cable_carries_a(element.mm2 if element.mm2 is not None else awg_area_mm2(element.awg or 0))
    else:
        return None
    allowed *= CRANKS if cranking else 1.0
    return Overload(element.id, abs(amps), allowed) if abs(amps) > allowed else None
