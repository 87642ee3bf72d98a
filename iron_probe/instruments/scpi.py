"""The words of SCPI that meters here are spoken to with, and their answers (source: SCPI-99, volumes 1 and 2; IEEE 488.2 for those with a star)."""

import re

from iron_probe.core.errors import IronProbeError
from iron_probe.core.meters.measured import Measured

ASKED: dict[Measured, str] = {
    Measured.DC_VOLTS: "MEAS:VOLT:DC?",
    Measured.AC_VOLTS: "MEAS:VOLT:AC?",
    Measured.OHMS: "MEAS:RES?",
    Measured.AMPS: "MEAS:CURR:DC?",
}
FOUR_WIRE = "MEAS:FRES?"
"""Ohms of a battery tester, by its four leads."""
OVERLOAD = 9.9e37
"""What stands for more than a range shows."""
LONGEST = 200
"""Characters of an answer that are looked at."""
_NUMBER = re.compile(r"^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$", re.ASCII)


class InstrumentError(IronProbeError):
    """A meter cannot be read: the text says which way, and what to do."""


class SilentError(InstrumentError):
    """It does not answer."""


class GarbledError(InstrumentError):
    """It answers something that is no figure."""


def question(measured: Measured, *, channel: int = 0, four_wire: bool = False) -> str:
    """How a meter is asked for a figure, of one of its channels where it has several."""
    word = FOUR_WIRE if four_wire and measured is Measured.OHMS else ASKED[measured]
    return f"{word} (@{channel})" if channel else word


def figure(answer: str) -> float | None:
    """The figure of an answer; None where it is over range. GarbledError where it is no figure."""
    said = answer.strip()
    if len(said) > LONGEST or not _NUMBER.match(said):
        raise GarbledError(f"It answered “{said[:40]}”, which is no figure: check that its plug is the meter's and that it speaks SCPI")
    value = float(said)
    return None if abs(value) >= OVERLOAD else value
