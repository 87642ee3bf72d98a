"""Units as this device wants them: °C, mm² and metres, or °F, AWG and feet. What is measured stays in the units of the meter."""

import math
from contextvars import ContextVar
from enum import StrEnum

from iron_probe.core.circuit.conductors import awg_area_mm2
from iron_probe.core.circuit.elements import Conductor

COOKIE = "iron_probe_units"
FOOT_M = 0.3048


class Units(StrEnum):
    """A system of units for temperature, size and length."""

    METRIC = "metric"
    AMERICAN = "american"


_shown: ContextVar[Units] = ContextVar("units", default=Units.METRIC)


def show_in(asked: str | None) -> None:
    """Word this request's pages in the units its device asks for; metric where it asks for none that is known."""
    _shown.set(Units.AMERICAN if asked == Units.AMERICAN.value else Units.METRIC)


def _american() -> bool:
    return _shown.get() is Units.AMERICAN


def degree() -> str:
    """The unit of temperature."""
    return "°F" if _american() else "°C"


def degrees(degc: float) -> str:
    """A temperature in whole degrees with a real minus sign."""
    return f"{degrees_typed(degc)} {degree()}".replace("-", "−")


def degrees_typed(degc: object) -> str:
    """A temperature as it stands in a field: its number, or what was typed there that is none."""
    if not isinstance(degc, int | float):
        return str(degc)
    return f"{degc * 9 / 5 + 32 if _american() else degc:.0f}"


def read_degrees(text: str) -> float:
    """A temperature [°C] as it was typed, in the unit it names or else in this device's; ValueError where it is no number."""
    said = text.replace(",", ".").replace("−", "-").replace(" ", "").casefold()
    number = said.rstrip("°cf")
    named = said[len(number) :].strip("°")
    value = float(number)
    if not math.isfinite(value) or named not in ("", "c", "f"):
        raise ValueError(text)
    return (value - 32) * 5 / 9 if (named or ("f" if _american() else "c")) == "f" else value


def size_of(conductor: Conductor) -> str:
    """The size and length of a cable or wire, where the sheet gives them."""
    area = conductor.mm2 if conductor.mm2 is not None else awg_area_mm2(conductor.awg) if conductor.awg is not None else None
    if area is None or conductor.length_m is None:
        return ""
    if _american():
        return f"{_gauge(area)}, {conductor.length_m / FOOT_M:.1f} ft"
    return f"{area:.3g} mm², {conductor.length_m:g} m"


def _gauge(area_mm2: float) -> str:
    """The gauge that comes nearest to an area."""
    number = min(range(-3, 31), key=lambda n: abs(math.log(area_mm2 / awg_area_mm2(n))))
    return f"{number} AWG" if number > 0 else f"{1 - number}/0 AWG"
