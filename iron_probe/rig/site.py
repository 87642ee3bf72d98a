"""What an element's branches are written with: where it stands in the machine, and a branch with the way its current is told."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import isinf

from iron_probe.core.circuit.elements import Element
from iron_probe.rig.machine import Devices, Machine


@dataclass(frozen=True, slots=True)
class Site:
    """An element's place: its machine, where devices stand, nodes by point, its number `k` for names of its own, and how long ago the
    state began [s] (None in a transient)."""

    machine: Machine
    devices: Devices
    node: dict[str, str]
    k: int
    after_s: float | None


@dataclass(frozen=True, slots=True)
class Way:
    """One branch as ngspice has it. Its current is told by its ohms between nodes `a` and `b`, or, with `meter`, by that source."""

    branch: str
    lines: tuple[str, ...]
    a: str = "0"
    b: str = "0"
    ohm: float = 0.0
    meter: str = ""

    def amps(self, found: dict[str, float]) -> float:
        """Its current [A] by what ngspice found."""
        if self.meter:
            return found.get(f"{self.meter.lower()}#branch", 0.0)
        volts = [0.0 if node == "0" else found.get(node, 0.0) for node in (self.a, self.b)]
        return (volts[0] - volts[1]) / self.ohm


def resistor(at: Site, element: Element, part: str, start: str, end: str, ohm: float) -> Iterator[Way]:
    """A plain resistance of an element between two points; nothing when it is parted."""
    a, b = at.node[start], at.node[end]
    if not isinf(ohm) and a != b:
        name = f"{element.id}.{part}" if part else element.id
        yield Way(name, (f"R{at.k}_{part.replace('-', '_')} {a} {b} {ohm:.12g}",), a, b, ohm)


def metered(branch: str, meter: str, *lines: str) -> Way:
    """A branch of several lines, the current through which one of its sources shows."""
    return Way(branch, lines, meter=meter)
