"""What an instrument that sends its figures is set to, and what a reading needs it to be set to."""

from enum import StrEnum

from iron_probe.core.diagnose.evidence import UNIT, Instrument


class Measured(StrEnum):
    """A quantity that a meter is set to."""

    DC_VOLTS = "dc_volts"
    AC_VOLTS = "ac_volts"
    OHMS = "ohms"
    AMPS = "amps"


SHOWN_IN: dict[Measured, str] = {Measured.DC_VOLTS: "V", Measured.AC_VOLTS: "V", Measured.OHMS: "Ω", Measured.AMPS: "A"}
"""The unit a figure is sent in."""
LAST_DIGIT: dict[Measured, tuple[tuple[float, float], ...]] = {
    Measured.DC_VOLTS: ((0.6, 0.0001), (6.0, 0.001), (60.0, 0.01)),
    Measured.AC_VOLTS: ((6.0, 0.001), (60.0, 0.01), (600.0, 0.1)),
    Measured.OHMS: ((600.0, 0.1), (6e3, 1.0), (6e5, 100.0), (6e7, 1e4)),
    Measured.AMPS: ((6.0, 0.001), (60.0, 0.01), (3000.0, 0.1)),
}
"""Ranges of a 6,000-count meter: up to so much, in steps of so much (common practice). Four-wire ohms are finer: `FOUR_WIRE_OHM`."""
FOUR_WIRE_OHM = 1e-5
"""One step of a battery tester's internal resistance [Ω] (common practice)."""


def last_digit(measured: Measured, value: float) -> float:
    """One step of the range that shows a value by itself."""
    ranges = LAST_DIGIT[measured]
    return next((step for most, step in ranges if abs(value) < most), ranges[-1][1])


def needed(instrument: Instrument) -> Measured | None:
    """What a meter is set to for an engine's test; None where no figure of a meter answers it."""
    match instrument:
        case Instrument.AC_VOLTS:
            return Measured.AC_VOLTS
        case Instrument.CAPACITY | Instrument.RIPPLE:
            return None
        case _:
            by_unit = {"V": Measured.DC_VOLTS, "A": Measured.AMPS, "Ω": Measured.OHMS}
            return by_unit.get(UNIT.get(instrument, ""))
