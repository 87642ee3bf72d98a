"""What a technician types into the reading field, turned into a value in SI with its unit and resolution."""

import re
from dataclasses import dataclass, replace
from enum import StrEnum

from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import BEEP_OHM
from iron_probe.core.units import unit_of


class Bound(StrEnum):
    """How a value is to be taken: as read, as the least it can be (over range), as the most (under the last digit)."""

    EXACT = "exact"
    AT_LEAST = "at_least"
    AT_MOST = "at_most"


@dataclass(frozen=True, slots=True, kw_only=True)
class Quantity:
    """A typed value: `value` in V, A, Ω or Ah; `resolution` one step of its last digit, or how wide it was said to be, in the same unit; `unit` "V", "A" or "Ω"."""

    value: float
    unit: str
    resolution: float
    bound: Bound = Bound.EXACT


_NUMBER = re.compile(r"^([<>≤≥]?) ?([+-]?)(\d+(?:[.,]\d*)?|[.,]\d+) ?([a-zµμωΩ\u2126]*)$", re.IGNORECASE | re.ASCII)
_ABOUT = re.compile(r"^(?:about|around|roughly|approx\.?|ca\.?|~|≈) ?(?=\S)", re.IGNORECASE)
_OVER = re.compile(r"^(?:over|above|more than|at least) (?=\S)", re.IGNORECASE)
_UNDER = re.compile(r"^(?:under|below|less than|at most) (?=\S)", re.IGNORECASE)
_BETWEEN = re.compile(r"^between ", re.IGNORECASE)
_TO = re.compile(r" ?(?:\bto\b|\band\b|\.\.+|…|–) ?|(?<=[\da-zΩ]) ?-(?= ?\d)", re.IGNORECASE)
_NO_UNIT = re.compile(r"[\d.,]$")
ABOUT_SHARE = 0.06
"""How wide “about” is taken, as a share of the figure; two last digits at the least."""
BEEPS = {"beep": Bound.AT_MOST, "beeps": Bound.AT_MOST, "no beep": Bound.AT_LEAST, "silent": Bound.AT_LEAST}
LONGEST = 60
"""More characters than this are no figure."""

LARGEST: dict[str, float] = {"V": 60.0, "A": 3000.0, "Ω": 50e6, "Ah": 2000.0}
"""Readings beyond these cannot come from a 6, 12 or 24 V machine: a slip of the pen or of the unit."""
LARGEST_AC_V = 300.0
"""A stator unplugged and turned fast gives more than the system has: 50 to 60 V at speed are usual, beyond this it is a slip [V]."""

OVER_RANGE: dict[str, float] = {"V": 60.0, "A": 10.0, "Ω": 2e6, "Ah": 0.0}
"""What an over-range display says at the least, when nothing else is known (common practice)."""


def parse_quantity(text: str, unit: str, largest: float | None = None, bare: str = "") -> Quantity:
    """Read `1.44`, `1.44 v`, `1440mv`, `0,3`, `>20`, `over 20`, `<0.01`, `OL`, `about 11.5`, `11.2-11.6`, `11.2 to 11.6 V`; of ohms also `beep`
    and `no beep`. A bare number is in `unit` ("V", "A", "Ω" or "Ah"), or in `bare`, such as "mA", where that is given.

    A range is its middle, read as finely as it is wide; “about” is read no finer than two last digits. Raises ReadingError when the text is
    empty, is no number, is in another unit, or is beyond `largest` (None: LARGEST of the unit).
    """
    most = LARGEST[unit] if largest is None else largest
    typed = " ".join(text.split()).replace("−", "-")
    if not typed:
        raise ReadingError(
            f"The field is empty. Type the {_kind(unit)} you read, such as {_example(unit)}; a reading not taken is not a zero."
        )
    if typed.casefold() in ("ol", "o.l", "o.l.", "over", "1.", "inf", "∞"):
        return Quantity(value=OVER_RANGE[unit], unit=unit, resolution=0.0, bound=Bound.AT_LEAST)
    if unit == "Ω" and typed.casefold() in BEEPS:
        return Quantity(value=float(BEEP_OHM), unit=unit, resolution=0.0, bound=BEEPS[typed.casefold()])
    plain = _OVER.sub(">", _UNDER.sub("<", _BETWEEN.sub("", _ABOUT.sub("", typed))))
    ends = _TO.split(plain) if len(plain) <= LONGEST else [plain]
    if len(ends) == 2 and _NO_UNIT.search(ends[0]):
        ends[0] += re.sub(r"^[+-]?[\d.,]+", "", ends[1])  # 300-320 mA: the unit is said once
    if len(ends) > 2:
        ends = [plain]
    return _about(typed, [_one(end, typed, unit, most, bare) for end in ends])


def said_loosely(typed: str) -> bool:
    """Whether a figure was given as about something or as a range, so that its middle alone does not say what was typed."""
    return bool(_ABOUT.match(typed)) or len(_TO.split(_BETWEEN.sub("", typed))) == 2


def _about(typed: str, ends: list[Quantity]) -> Quantity:
    """A figure as it was said: the middle of its ends, or about it, no finer than that."""
    first, last = ends[0], ends[-1]
    if len(ends) > 1 and (last.value < first.value or {first.bound, last.bound} != {Bound.EXACT}):
        raise ReadingError(f"“{typed[:40]}” is no range: type its smaller end first and both as plain figures, such as 11.2 to 11.6.")
    value, step = (first.value + last.value) / 2, max(first.resolution, last.resolution, abs(last.value - first.value))
    if _ABOUT.match(typed):
        step = max(2 * step, ABOUT_SHARE * abs(value))
    return replace(first, value=value, resolution=step)


def _one(text: str, typed: str, unit: str, most: float, bare: str) -> Quantity:
    """One number with its sign and unit; ReadingError tells it by all that was `typed`."""
    match = _NUMBER.match(text) if len(text) <= LONGEST else None
    if match is None:
        raise ReadingError(f"“{typed[:40]}” is not a {_kind(unit)}. Type a number with or without its unit, such as {_example(unit)}.")
    sign, minus, digits, suffix = match.groups()
    suffix = suffix or bare
    found = unit_of(suffix) if suffix else (unit, 1.0)
    if found is None:
        raise ReadingError(f"“{suffix}” is not a unit known here. Use {', '.join(_allowed(unit))}, or leave the unit out.")
    name, factor = found
    if name != unit:
        raise ReadingError(
            f"“{typed[:40]}” is in {name}, but this field takes a {_kind(unit)} in {unit}. Check the unit or change the instrument."
        )
    digits = digits.replace(",", ".")
    value = float(digits) * factor * (-1 if minus == "-" else 1)
    if abs(value) > most:
        raise ReadingError(
            f"{typed[:40]} is beyond {most:g} {unit}, which no reading on this machine can be. Check the decimal point and the unit."
        )
    places = len(digits.partition(".")[2])
    bound = {"<": Bound.AT_MOST, "≤": Bound.AT_MOST, ">": Bound.AT_LEAST, "≥": Bound.AT_LEAST}.get(sign, Bound.EXACT)
    return Quantity(value=value, unit=unit, resolution=10.0**-places * factor, bound=bound)


def _kind(unit: str) -> str:
    return {"V": "voltage", "A": "current", "Ω": "resistance", "Ah": "charge"}[unit]


def _example(unit: str) -> str:
    return {"V": "0.42, 0,42 or 420 mV", "A": "180 or 0.05 A", "Ω": "0.4 or 120 Ω", "Ah": "38 or 38 Ah"}[unit]


def _allowed(unit: str) -> list[str]:
    return {"V": ["V", "mV"], "A": ["A", "mA"], "Ω": ["Ω", "mΩ", "kΩ", "MΩ", "ohm"], "Ah": ["Ah"]}[unit]


def parse_bare(text: str, small: str, unit: str) -> Quantity:
    """The same where a bare number is in a smaller unit, such as "mA" of "A"; ReadingError as there."""
    return parse_quantity(text, unit, bare=small)


_HOURS = {"min": 1 / 60, "minute": 1 / 60, "h": 1.0, "hour": 1.0, "d": 24.0, "day": 24.0, "w": 168.0, "week": 168.0}
_STOOD = {
    "overnight": 12.0,
    "a night": 12.0,
    "over night": 12.0,
    "a day": 24.0,
    "a weekend": 60.0,
    "over the weekend": 60.0,
    "a week": 168.0,
}
"""How long a machine stood that was left so [h]: from evening to morning, from Friday evening to Monday morning (common practice)."""
_TIME = re.compile(r"^(\d+(?:[.,]\d*)?|[.,]\d+) ?([a-z]*)$")


def parse_hours(text: str) -> float:
    """Hours from `9`, `9 h`, `40 min`, `3 d`, `2 weeks`, `overnight`, `3 nights` (three nights and the days between), `a weekend`; ReadingError when the text
    is no time above zero."""
    said = " ".join(text.split()).casefold()
    match, hours = _TIME.match(said), _STOOD.get(said, 0.0)
    if match:
        number, unit = float(match[1].replace(",", ".")), match[2].removesuffix("s") if len(match[2]) > 1 else match[2]
        hours = 24 * number - 12 if unit == "night" else number * _HOURS.get(unit or "h", 0.0)
    if not 0 < hours < float("inf"):
        raise ReadingError(f"“{text.strip()[:20]}” is no time: type hours such as 9, days such as 3 d, or overnight, 3 nights, a weekend.")
    return hours
