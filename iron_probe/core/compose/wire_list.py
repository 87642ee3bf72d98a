"""Wire lists as tables (from, to, size, colour, length) put onto a sheet, and the feed list written out as one.

A heading names the columns; without one they come in that order.
"""

import csv
import io
import re
from dataclasses import dataclass

from iron_probe.core.compose.cells import TABLE_FORMULA, figure_of, is_formula
from iron_probe.core.compose.naming import LONGEST_TITLE, free_name, word_of
from iron_probe.core.compose.sheet_text import Data, SheetText
from iron_probe.core.compose.table import TableKind, guess_columns, read_table
from iron_probe.core.errors import Mistake, SheetError

USUAL_LENGTH_M = 1.0
"""A wire whose length is not given is taken to be so long [m] (chosen here)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Wire:
    """A wire of a list: the points as they were named, its size in mm² or AWG, its colour and length [m]."""

    line: int
    start: str
    end: str
    mm2: float | None = None
    awg: int | None = None
    colour: str = ""
    length_m: float = USUAL_LENGTH_M


def read_wires(text: str) -> tuple[list[Wire], list[Mistake]]:
    """The wires of a table and everything that cannot be taken, by line."""
    try:
        table = read_table(text, TableKind.WIRES)
    except SheetError as error:
        return [], error.mistakes
    columns, found, mistakes = guess_columns(table, TableKind.WIRES), [], []
    for number, row in table.body:
        wire, wrong = _wire(number, {c: v for c, v in zip(columns, row, strict=False) if c})
        mistakes += [Mistake(line=number, where="wires", text=w) for w in wrong]
        found += [wire] if wire and not wrong else []
    return found, mistakes


def _wire(line: int, said: dict[str, str]) -> tuple[Wire | None, list[str]]:
    if any(is_formula(v) for v in said.values()):
        return None, [TABLE_FORMULA]
    if not said.get("from") or not said.get("to"):
        return None, ["says not both ends: a wire goes from one point to another, such as “key.run; lamp.feed; 1.5; green; 2.5”"]
    wrong = []
    mm2, awg, size = None, None, said.get("size", "").casefold()
    if match := re.fullmatch(r"(?:awg\s*(-?\d+)|(-?\d+)\s*awg)", size):
        awg = int(match[1] or match[2])
        if not -3 <= awg <= 30:
            wrong.append(f"AWG {awg}: from -3 (4/0) to 30")
    elif size:
        mm2 = _within(size.removesuffix("mm²").removesuffix("mm2"), 0.1, 300, "size in mm²", wrong)
    length_m = USUAL_LENGTH_M
    if said.get("length"):
        length_m = _within(said["length"].casefold().removesuffix("m"), 0.01, 100, "length in metres", wrong) or USUAL_LENGTH_M
    made = Wire(line=line, start=said["from"], end=said["to"], mm2=mm2, awg=awg, colour=said.get("colour", "")[:20], length_m=length_m)
    return made, wrong


def _within(said: str, least: float, most: float, what: str, wrong: list[str]) -> float | None:
    value = figure_of(said)
    if value is None or not least <= value <= most:
        wrong.append(f"“{said[:12]}” is no {what}: from {least:g} to {most:g}")
        return None
    return value


def put_wires(text: str, table: str) -> str:
    """A wire list put onto a sheet: points are known by name or title, those that are not are new. SheetError with every line that cannot
    be taken; nothing is put on then."""
    wires, mistakes = read_wires(table)
    if mistakes or not wires:
        told = "no wire is listed: a line each, from; to; size; colour; length"
        raise SheetError(mistakes or [Mistake(line=0, where="wires", text=told)])
    sheet = SheetText(text)
    known = {title.casefold(): n for n, title in sheet.titles.items()} | {n.casefold(): n for n in sheet.points}
    ids = {e["id"] for e in sheet.elements}
    fresh: dict[str, Data] = {}
    parts: list[Data] = []
    for wire in wires:
        ends = []
        for said in (wire.start, wire.end):
            if said.casefold() not in known:
                name = free_name(re.sub(r"[^A-Za-z0-9.+\-]+", ".", said).strip(".") or "point", set(known.values()))
                known[said.casefold()] = name
                fresh[name] = {"title": said[:LONGEST_TITLE], "minutes": 1.0}
            ends.append(known[said.casefold()])
        name = free_name(word_of(f"{ends[0]}-{ends[1]}"), ids)
        ids.add(name)
        size = {"awg": wire.awg} if wire.awg is not None else {"mm2": wire.mm2 or 1.0}
        title = f"{wire.colour.capitalize() + ' wire' if wire.colour else 'Wire'} {ends[0]} to {ends[1]}"[:LONGEST_TITLE]
        parts.append({"id": name, "type": "wire", "title": title, "from": ends[0], "to": ends[1], **size, "length_m": wire.length_m})
    return sheet.with_entries("points", fresh).added(*parts).text


LISTED = ("id", "type", "title", "from", "to", "rating_a", "mm2", "awg", "length_m", "r_mohm", "ohm", "watts", "box", "slot")
"""What the feed list says of a part, before its tags."""


def feed_list(text: str) -> str:
    """All parts of a sheet as a table; a cell that a spreadsheet would work out is made a text."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([*LISTED, "tags"])
    for e in SheetText(text).elements:
        cells = [e.get(k, "") for k in LISTED] + [" ".join(e.get("tags", []))]
        writer.writerow([f"'{c}" if isinstance(c, str) and is_formula(c) else c for c in cells])
    return out.getvalue()
