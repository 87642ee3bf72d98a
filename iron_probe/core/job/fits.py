"""Which lines of a log fit a circuit: after the drawing changed, those that name what is gone stand aside."""

from collections.abc import Callable
from dataclasses import dataclass

from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Reading, check_reading
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.lines import TestLine

OF_ELEMENT = ("battery", "check", "stator", "bus")
"""Screens whose tests are made on an element of the sheet, named as their subject."""
PAIR = "pair"
"""Subject of a test made on two batteries together."""


@dataclass(frozen=True, slots=True)
class Fits:
    """Whether a reading can be held against the circuit, and whether an element is on it."""

    reading: Callable[[Reading], bool]
    element: Callable[[str], bool]

    def test(self, line: TestLine) -> bool:
        """Whether what a test was made on is still there, and all the readings it left fit."""
        there = line.screen not in OF_ELEMENT or line.subject == PAIR or self.element(line.subject)
        return there and all(self.reading(r) for r in line.readings)


ANY = Fits(lambda _: True, lambda _: True)
"""Everything fits: a log read without its circuit."""


def fits_of(sheet: Sheet) -> Fits:
    """What fits a sheet."""
    elements = {e.id for e in sheet.elements}
    network = network_of(sheet)

    def reading(taken: Reading) -> bool:
        try:
            check_reading(taken, network)
        except ReadingError:
            return False
        return True

    return Fits(reading, elements.__contains__)
