"""A table as it comes from a spreadsheet or a mail: its bytes read, parted into cells, its columns told, and written as one of our own tables."""

import codecs
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from iron_probe.core.compose.cells import FORMULA, cells_of, figure_of
from iron_probe.core.errors import Mistake, SheetError

MOST_ROWS, MOST_COLUMNS, MOST_CELL = 500, 30, 200
LEAVE_OUT = ""
"""What a column stands for that is not taken over."""


class TableKind(StrEnum):
    """What a table lists."""

    FEEDS = "feeds"
    WIRES = "wires"


COLUMNS: Mapping[TableKind, tuple[str, ...]] = {
    TableKind.FEEDS: ("box", "slot", "rating", "feeds", "watts", "asleep", "live", "switch"),
    TableKind.WIRES: ("from", "to", "size", "colour", "length"),
}
"""What a column may stand for."""
NEEDED: Mapping[TableKind, tuple[str, ...]] = {TableKind.FEEDS: ("feeds",), TableKind.WIRES: ("from", "to")}
HEADINGS: Mapping[TableKind, Mapping[str, str]] = {
    TableKind.FEEDS: {
        "box": "box", "slot": "slot", "no": "slot", "no.": "slot", "fuse": "slot", "position": "slot", "rating": "rating", "amps": "rating",
        "a": "rating", "fuse rating": "rating", "feeds": "feeds", "consumer": "feeds", "circuit": "feeds", "protects": "feeds", "description": "feeds",
        "watts": "watts", "w": "watts", "power": "watts", "asleep": "asleep", "ma": "asleep", "standby": "asleep", "live": "live", "switched": "live",
        "supply": "live", "by": "switch", "switch": "switch", "switched by": "switch",
    },
    TableKind.WIRES: {
        "from": "from", "start": "from", "source": "from", "to": "to", "end": "to", "target": "to", "destination": "to", "size": "size", "mm2": "size",
        "mm²": "size", "gauge": "size", "awg": "size", "section": "size", "colour": "colour", "color": "colour", "length": "length", "m": "length",
        "metres": "length", "meters": "length",
    },
}  # fmt: skip
"""What columns are headed with, in small letters."""
UNITS = {"rating": "A", "watts": "W", "asleep": "mA"}


@dataclass(frozen=True, slots=True)
class Table:
    """Rows of cells, each as many; `lines` are the lines they came from, `headed` whether the first of them names the columns."""

    rows: tuple[tuple[str, ...], ...]
    lines: tuple[int, ...]
    headed: bool

    @property
    def body(self) -> tuple[tuple[int, tuple[str, ...]], ...]:
        """The rows behind the heading, each with its line."""
        listed = tuple(zip(self.lines, self.rows, strict=True))
        return listed[1:] if self.headed else listed


def decode(raw: bytes) -> str:
    """The text of a file: what its first bytes say, else UTF-8, else the letters of a western office. SheetError where it is no text."""
    marks = ((codecs.BOM_UTF8, "utf-8-sig"), (codecs.BOM_UTF16_LE, "utf-16"), (codecs.BOM_UTF16_BE, "utf-16"))
    known = next((encoding for mark, encoding in marks if raw.startswith(mark)), None)
    for encoding in (known,) if known else ("utf-8", "cp1252"):
        try:
            text = raw.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\x00" not in text:
            return text
    raise _wrong("is no text: save the table as CSV and choose that file")


def read_table(text: str, kind: TableKind) -> Table:
    """A pasted table parted into cells; SheetError where it is empty or larger than is taken."""
    listed = [
        (n, row) for n, row in enumerate(text.replace("\r\n", "\n").replace("\r", "\n").split("\n"), start=1) if row.strip(" \t;,\"'")
    ]
    listed = [(n, row) for n, row in listed if not row.lstrip().startswith("#")]
    if not listed:
        raise _wrong("holds no rows: paste the table with its headings, or choose its file")
    if len(listed) > MOST_ROWS:
        raise _wrong(f"has {len(listed):,} lines; at most {MOST_ROWS} are taken at once: put on one harness or box after the other")
    parted = [cells_of(row) for _, row in listed]
    wide = max(len(row) for row in parted)
    if wide > MOST_COLUMNS:
        raise _wrong(f"has {wide} columns; at most {MOST_COLUMNS} are taken: leave out those that say nothing of it")
    rows = tuple(tuple(c[:MOST_CELL] for c in (*row, *[""] * (wide - len(row)))) for row in parted)
    named = [c.casefold() in HEADINGS[kind] for c in rows[0] if c]
    headed = sum(named) * 2 >= len(named) and not any(figure_of(c) is not None for c in rows[0])
    return Table(rows, tuple(n for n, _ in listed), headed and len(named) > 1)


def guess_columns(table: Table, kind: TableKind) -> tuple[str, ...]:
    """What each column seems to stand for, by its heading, else by its place or by what it holds; each at most once."""
    if table.headed:
        return _once(HEADINGS[kind].get(c.casefold(), LEAVE_OUT) for c in table.rows[0])
    wide = len(table.rows[0])
    if kind is TableKind.WIRES:
        return (*COLUMNS[kind][:wide], *[LEAVE_OUT] * (wide - len(COLUMNS[kind])))
    return _once(_by_content([row[k] for row in table.rows]) for k in range(wide))


def _once(names: Iterable[str]) -> tuple[str, ...]:
    found: list[str] = []
    for name in names:
        found.append(LEAVE_OUT if name in found else name)
    return tuple(found)


def _by_content(cells: list[str]) -> str:
    """What a column of a table of fuses holds."""
    told = [c.casefold() for c in cells if c]
    if not told:
        return LEAVE_OUT
    most = len(told) * 0.6
    if sum(c.endswith("ma") for c in told) >= most:
        return "asleep"
    if sum(c.endswith("w") and c[:1].isdigit() for c in told) >= most:
        return "watts"
    if sum(figure_of(c.removesuffix("amps").removesuffix("a").strip()) is not None for c in told) >= most:
        return "rating"
    if sum(len(c) <= 4 and c[-1:].isdigit() for c in told) >= most:
        return "slot"
    if sum(c in ("key", "always", "ignition", "battery", "run", "live") for c in told) >= most:
        return "live"
    return "feeds"


def written(table: Table, kind: TableKind, columns: Sequence[str]) -> str:
    """The table as our own of that kind, every row on the line it came from. SheetError where a column is missing, named twice or unknown."""
    told = [c for c in columns if c]
    if unknown := [c for c in told if c not in COLUMNS[kind]]:
        raise _wrong(f"has no column that could be “{unknown[0][:20]}”: choose {', '.join(COLUMNS[kind])}, or leave it out")
    if twice := next((c for c in told if told.count(c) > 1), None):
        raise _wrong(f"has two columns for {twice}: each may stand once")
    if missing := [c for c in NEEDED[kind] if c not in told]:
        raise _wrong(f"has no column for {' and '.join(missing)}: choose which it is")
    out = [""] * max(table.lines)
    for line, row in table.body:
        said = {c: v for c, v in zip(columns, row, strict=False) if c}
        out[line - 1] = "; ".join(_plain(said.get(c, "")) for c in COLUMNS[kind]) if kind is TableKind.WIRES else _feed(said)
    return "\n".join(out)


def _feed(said: Mapping[str, str]) -> str:
    """A fuse as a line of our own table."""
    cells = []
    if number := re.search(r"\d+", said.get("box", "")):
        cells.append(f"box {number[0]}")
    if slot := _slot(said.get("slot", "")):
        cells.append(slot)
    for name in ("rating", "watts", "asleep"):
        value = said.get(name, "").strip()
        if value and value not in ("-", "–"):
            cells.append(f"{value} {UNITS[name]}" if figure_of(value) is not None else value)
    cells.append(_plain(said.get("feeds", "")))
    live, switch = said.get("live", "").casefold(), said.get("switch", "").strip()
    if live:
        cells.append("key" if any(w in live for w in ("key", "ign", "run", "15", "switched")) else "always")
    if switch and switch not in ("-", "–"):
        cells.append("switch" if switch.casefold() in ("yes", "x", "switch") else f"by {_plain(switch)}")
    return "; ".join(c for c in cells if c)


def _slot(said: str) -> str:
    """A slot as our table knows it: one or two letters and a number."""
    said = said.strip()
    return f"F{int(said)}" if said.isdecimal() and len(said) < 4 else said


def _plain(cell: str) -> str:
    """A cell that cannot be taken for two; a formula stays one, and is refused by the reader."""
    return " ".join(cell.replace(";", ",").split()) if not cell.startswith(FORMULA) else cell.replace(";", ",")


def _wrong(text: str) -> SheetError:
    return SheetError([Mistake(line=0, where="table", text=text)])
