"""Readings that a meter can show and a machine hardly can: asked about once before they are logged, never refused."""

from enum import StrEnum

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.limits import (
    IMPLAUSIBLE_CRANK_SHARE,
    IMPLAUSIBLE_SLEEP_A,
    IMPLAUSIBLE_SUPPLY_SHARE,
    LEADS_SWAPPED_SHARE,
    LEAST_SLEEP_A,
)


class Doubt(StrEnum):
    """Why a reading is asked about before it is logged."""

    OVER_SUPPLY = "over_supply"
    """More volts than any source on this machine gives."""
    LEADS_SWAPPED = "leads_swapped"
    """About what a sound machine shows there, of the other sign."""
    OVER_STARTER = "over_starter"
    """More amperes than its batteries can give."""
    OVER_SLEEP = "over_sleep"
    """More than a parked machine can draw and still be asked about tomorrow: amperes typed for milliamperes."""
    UNDER_SLEEP = "under_sleep"
    """Less than a clamp shows: amperes typed where milliamperes are meant."""


def doubt_of(reading: Reading, sheet: Sheet, good: float | None = None) -> Doubt | None:
    """Why a reading on the circuit is hard to believe; None where it is not. `good` is what a sound machine shows there, in SI, where that is known."""
    value = reading.value
    if value is None:
        return None
    if reading.instrument is Instrument.VOLTMETER:
        if over := doubt_of_volts(value, sheet.system_v):
            return over
        if good is not None and good * value < 0 and min(abs(good), abs(value)) > LEADS_SWAPPED_SHARE * sheet.system_v:
            return Doubt.LEADS_SWAPPED
    if reading.instrument is Instrument.CLAMP and abs(value) > IMPLAUSIBLE_CRANK_SHARE * sum(b.cca_a for b in sheet.batteries):
        return Doubt.OVER_STARTER
    return None


def doubt_of_volts(volts: float, nominal_v: float) -> Doubt | None:
    """Why volts [V] of a machine or battery of that nominal voltage are hard to believe; None where they are not."""
    return Doubt.OVER_SUPPLY if abs(volts) > IMPLAUSIBLE_SUPPLY_SHARE * nominal_v else None


def doubt_of_sleep(amps: float) -> Doubt | None:
    """Why a current of the parked machine [A] is hard to believe; None where it is not."""
    if abs(amps) > IMPLAUSIBLE_SLEEP_A:
        return Doubt.OVER_SLEEP
    return Doubt.UNDER_SLEEP if 0 < abs(amps) < LEAST_SLEEP_A else None
