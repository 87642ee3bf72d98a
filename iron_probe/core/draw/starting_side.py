"""The starting side of a machine for its feed map: what makes the charging current, and what hangs on nothing else, has a board of its own."""

from collections import Counter

from iron_probe.core.circuit.elements import Conductor, Element, Fuse, Joint, Lamp, Starter
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.scope import CHARGING_ELEMENTS


def starting_side(sheet: Sheet) -> Sheet:
    """The sheet without its charging elements and the wires that then end nowhere; a machine that has nothing to crank stays whole."""
    if not any(isinstance(e, Starter) for e in sheet.elements):
        return sheet
    left: list[Element] = [e for e in sheet.elements if not isinstance(e, CHARGING_ELEMENTS)]
    inner = {p for e in sheet.elements if isinstance(e, CHARGING_ELEMENTS) for p in e.points()}
    while True:
        ends = Counter(p for e in left for p in e.points())
        hanging = [
            e for e in left if isinstance(e, Joint | Conductor | Fuse | Lamp) and any(p in inner and ends[p] == 1 for p in e.points())
        ]
        if not hanging:
            break
        inner |= {p for e in hanging for p in e.points()}
        left = [e for e in left if e not in hanging]
    used = {p for e in left for p in e.points()} | {sheet.plus, sheet.minus}
    return sheet.changed(elements=left, points={n: p for n, p in sheet.points.items() if n in used})
