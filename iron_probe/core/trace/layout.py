"""How a capture file is laid out: separators, header, time base, and what each column means; guessed from its first lines."""

import re
from enum import StrEnum
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from iron_probe.core.errors import CaptureError


class Role(StrEnum):
    """What a channel measures. Amps and volts serve the crank trace; a drop is taken lead to lead."""

    AMPS = "amps"
    VOLTS = "volts"
    DROP = "drop"
    OTHER = "other"


UNIT_OF = {Role.AMPS: "A", Role.VOLTS: "V", Role.DROP: "V", Role.OTHER: ""}
TimeKind = Literal["seconds", "milliseconds", "microseconds", "clock", "rate"]
SECONDS_PER = {"seconds": 1.0, "milliseconds": 1e-3, "microseconds": 1e-6}
CLAMP_SCALES = {"1 mV/A": 1000.0, "10 mV/A": 100.0, "100 mV/A": 10.0}
"""Amps per volt of a clamp's output."""
MOST_COLUMNS = 32


class Channel(BaseModel):
    """A column taken: its number from 0, a name, its role, `scale` from the file's figure to V or A, and whether it is turned over."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    column: Annotated[int, Field(ge=0, lt=MOST_COLUMNS)]
    name: Annotated[str, Field(max_length=60)]
    role: Role = Role.OTHER
    scale: Annotated[float, Field(gt=0, le=1e6)] = 1.0
    inverted: bool = False


class Layout(BaseModel):
    """A capture file's layout. `skip` header lines; time from `time_column` in its kind, or from `rate_hz` where there is no such column."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    delimiter: Literal[",", ";", "\t", " "] = ","
    decimal: Literal[".", ","] = "."
    skip: Annotated[int, Field(ge=0, le=200)] = 0
    columns: Annotated[int, Field(ge=1, le=MOST_COLUMNS)]
    time: TimeKind = "seconds"
    time_column: Annotated[int, Field(ge=0, lt=MOST_COLUMNS)] | None = 0
    rate_hz: Annotated[float, Field(gt=0, le=1e9)] | None = None
    channels: Annotated[tuple[Channel, ...], Field(max_length=8)] = ()

    @model_validator(mode="after")
    def _complete(self) -> "Layout":
        if self.time == "rate" and self.rate_hz is None:
            raise ValueError("without a time column give the sample rate in samples per second")
        if self.time != "rate" and (self.time_column is None or self.time_column >= self.columns):
            raise ValueError(f"the time column must be one of the {self.columns} columns")
        taken = [c.column for c in self.channels]
        if any(c >= self.columns for c in taken):
            raise ValueError(f"a channel lies beyond the {self.columns} columns")
        if len(set(taken)) < len(taken):
            raise ValueError("two channels take the same column")
        if self.time != "rate" and self.time_column in taken:
            raise ValueError("a channel takes the time column")
        return self


class Preview(BaseModel):
    """The first lines of a file as cells, the header's names and units by column, and the layout guessed."""

    layout: Layout
    names: list[str]
    units: list[str]
    rows: list[list[str]]


_CLOCK = re.compile(r"^(\d{4}-\d\d-\d\d[ T])?\d{1,2}:\d\d(:\d\d([.,]\d+)?)?$")
_NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)(e[+-]?\d+)?$", re.IGNORECASE)
_TO_VOLTS = {"v": 1.0, "mv": 1e-3, "uv": 1e-6, "µv": 1e-6}
_TO_AMPS = {"a": 1.0, "ma": 1e-3, "ka": 1e3}
_TIME_UNITS: dict[str, TimeKind] = {"s": "seconds", "sec": "seconds", "ms": "milliseconds", "us": "microseconds", "µs": "microseconds"}


def guess_layout(head: bytes) -> Preview:
    """Guess the layout from the first lines of a file; CaptureError when no column of numbers is found in it."""
    lines = [line for line in text_of(head).splitlines()[:60] if line.strip()]
    if not lines:
        raise CaptureError("The file is empty: export the capture again as CSV, with one line a sample.")
    delimiter, decimal, cells = _separators(lines)
    first = next((n for n, row in enumerate(cells) if len(row) > 0 and all(_is_figure(c, decimal) for c in row)), None)
    if first is None:
        raise CaptureError(
            f"No line of numbers is found in the first {len(lines)} lines (the first reads “{lines[0][:60]}”). Export the capture as CSV: a line a sample, a column a channel."
        )
    width = len(cells[first])
    if width > MOST_COLUMNS:
        raise CaptureError(f"{width} columns; at most {MOST_COLUMNS} fit. Export fewer channels.")
    header = [row for row in cells[:first] if len(row) == width]
    names = header[0] if header else [f"column {k + 1}" for k in range(width)]
    units = [_unit(header[-1][k] if len(header) > 1 else "", names[k]) for k in range(width)]
    body = [row for row in cells[first:] if len(row) == width]
    time, time_column = _time(names, units, body, decimal)
    skip = next(n for n, line in enumerate(text_of(head).splitlines()) if line == lines[first])
    channels = tuple(_channel(k, names[k], units[k]) for k in range(width) if k != time_column)[:8]
    layout = Layout(
        delimiter=delimiter, decimal=decimal, skip=skip, columns=width, time=time, time_column=time_column,
        rate_hz=1000.0 if time == "rate" else None, channels=channels,
    )  # fmt: skip
    return Preview(layout=layout, names=names, units=units, rows=body[:12])


def text_of(data: bytes) -> str:
    """Bytes of a capture as text, whatever program wrote them."""
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            return data.decode(encoding, errors="replace").replace("\x00", "")
    return data.decode("utf-8", errors="replace").replace("\x00", "")


def _separators(lines: list[str]) -> tuple[Literal[",", ";", "\t", " "], Literal[".", ","], list[list[str]]]:
    """The pair of separators under which most lines read as whole rows of numbers, and the lines as cells."""
    best: tuple[int, Literal[",", ";", "\t", " "], Literal[".", ","], list[list[str]]] = (-1, ",", ".", [])
    pairs: tuple[tuple[Literal[",", ";", "\t", " "], Literal[".", ","]], ...] = (
        (";", ","),
        (";", "."),
        ("\t", "."),
        ("\t", ","),
        (",", "."),
        (" ", "."),
        (" ", ","),
    )
    for delimiter, decimal in pairs:
        cells = [[c.strip().strip('"') for c in (line.split() if delimiter == " " else line.split(delimiter))] for line in lines]
        whole = [row for row in cells if row and all(_is_figure(c, decimal) for c in row)]
        score = sum(len(row) for row in whole) + (0 if decimal == "." else sum("," in c for row in whole for c in row) > 0)
        if score > best[0]:
            best = (score, delimiter, decimal, cells)
    return best[1], best[2], best[3]


def _is_figure(cell: str, decimal: str) -> bool:
    other = "," if decimal == "." else "."
    return bool(_CLOCK.match(cell)) or (bool(_NUMBER.match(cell)) and other not in cell)


def _unit(line: str, name: str) -> str:
    found = re.search(r"[(\[]\s*([A-Za-zµΩ°%/]+)\s*[)\]]", line or name) or re.search(r"[(\[]\s*([A-Za-zµΩ°%/]+)\s*[)\]]", name)
    return (found.group(1) if found else line.strip("()[] ")).strip()


def _time(names: list[str], units: list[str], body: list[list[str]], decimal: str) -> tuple[TimeKind, int | None]:
    for k in range(len(names)):
        if all(_CLOCK.match(row[k]) for row in body[:5]):
            return "clock", k
    for k, name in enumerate(names):
        if re.match(r"^(time|zeit|temps|t|x|second|sec)\b", name.strip(), re.IGNORECASE) or units[k].casefold() in _TIME_UNITS:
            return _TIME_UNITS.get(units[k].casefold(), "seconds"), k
    try:
        first = [float(row[0].replace(decimal, ".")) for row in body]
    except ValueError:  # a line among the first is no sample: it says nothing of the time
        first = []
    if len(first) > 2 and len(names) > 1:
        steps = [b - a for a, b in pairwise(first)]
        if min(steps) > 0 and max(steps) < 1.5 * min(steps):
            return "seconds", 0
    return "rate", None


def _channel(column: int, name: str, unit: str) -> Channel:
    told = unit.casefold()
    if told in _TO_AMPS:
        return Channel(column=column, name=name[:60], role=Role.AMPS, scale=_TO_AMPS[told])
    if told in _TO_VOLTS:
        drop = bool(re.search(r"drop|lead|diff", name, re.IGNORECASE))
        clamp = bool(re.search(r"clamp|amp|current|curr", name, re.IGNORECASE))
        if clamp:
            return Channel(column=column, name=name[:60], role=Role.AMPS, scale=_TO_VOLTS[told] * CLAMP_SCALES["10 mV/A"])
        return Channel(column=column, name=name[:60], role=Role.DROP if drop else Role.VOLTS, scale=_TO_VOLTS[told])
    if re.search(r"amp|current|clamp|curr", name, re.IGNORECASE):
        return Channel(column=column, name=name[:60], role=Role.AMPS)
    if re.search(r"volt|batt|post", name, re.IGNORECASE):
        return Channel(column=column, name=name[:60], role=Role.VOLTS)
    return Channel(column=column, name=name[:60])
