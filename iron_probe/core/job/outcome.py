"""What a job comes to for who pays for it: a few figures before and after, and the dear parts that were proven good."""

from collections.abc import Collection, Iterable, Sequence

from iron_probe.core.bench.retest import Compared
from iron_probe.core.circuit.elements import (
    Alternator,
    Battery,
    FieldRegulator,
    Module,
    Rectifier,
    Relay,
    Solenoid,
    Starter,
    Stator,
)
from iron_probe.core.circuit.sheet import Sheet

FIGURES = 3
"""Figures on a customer's page."""
DEAR = (Battery, Starter, Solenoid, Alternator, Rectifier, Stator, FieldRegulator, Module, Relay)
"""Kinds of part that are bought for nothing where nobody measures (common practice)."""


def told_figures(compared: Sequence[Compared]) -> tuple[Compared, ...]:
    """The figures read again after a repair that say most: those that were off, by how far the repair brought them, then the others."""
    again = [c for c in compared if c.after_v is not None]
    return tuple(sorted(again, key=lambda c: (not c.was_off, -abs(c.before_v - (c.after_v or 0.0))))[:FIGURES])


def spared(sheet: Sheet, cleared: Iterable[str], mended: Collection[str]) -> tuple[str, ...]:
    """Dear parts, in the sheet's order, that readings cleared and nobody mended."""
    found = set(cleared) - set(mended)
    return tuple(e.id for e in sheet.elements if isinstance(e, DEAR) and e.id in found)
