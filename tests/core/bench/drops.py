"""A board of drops on the minibus."""

from iron_probe.core.bench.allowance import School
from iron_probe.core.bench.drop import DropReading
from iron_probe.core.bench.drop_board import DropBoard, drop_board
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet


def reading(
    number: int, red: str, black: str, volts: float, *, loaded: bool = True, amps: float | None = None, crank: int = 1
) -> DropReading:
    return DropReading(number=number, red=red, black=black, drop_v=volts, loaded=loaded, amps=amps, crank=crank)


def board(sheet: Sheet, *readings: DropReading, posts_v: float | None = None, cold_degc: float = -10) -> DropBoard:
    return drop_board(sheet, readings, posts_v, School.COMMON, Conditions(), cold_degc)
