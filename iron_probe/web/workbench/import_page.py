"""What an import shows before it is put on: the table as it came, what each column is taken for, and what is understood of each line."""

from dataclasses import dataclass, field, replace
from enum import StrEnum

from starlette.datastructures import FormData, UploadFile

from iron_probe.core.compose.feeds import read_feeds
from iron_probe.core.compose.netlist import put_netlist
from iron_probe.core.compose.sheet_text import SheetText
from iron_probe.core.compose.table import COLUMNS, Table, TableKind, decode, guess_columns, read_table, written
from iron_probe.core.compose.tap import put_feeds
from iron_probe.core.compose.wire_list import put_wires, read_wires
from iron_probe.core.errors import Mistake, SheetError
from iron_probe.web.page import field as said_in

MOST_BYTES = 1_000_000
SHOWN = 12
"""Rows of the table shown with its columns; all that is understood is listed."""


class What(StrEnum):
    """What is put on."""

    FEEDS = "feeds"
    WIRES = "wires"
    NETLIST = "netlist"


@dataclass(frozen=True, slots=True, kw_only=True)
class ImportPage:
    """An import as far as it is read: `understood` is a line of the source with what was taken from it."""

    what: What = What.FEEDS
    text: str = ""
    table: Table | None = None
    columns: tuple[str, ...] = ()
    may_be: tuple[str, ...] = ()
    understood: tuple[tuple[int, str], ...] = ()
    mistakes: list[Mistake] = field(default_factory=list)
    always: str = ""
    behind_key: str = ""
    points: dict[str, str] = field(default_factory=dict)
    made: str = ""


def import_page(form: FormData, sheet: str, *, put: bool) -> ImportPage:
    """Read an import as its form says; `made` is the sheet with it where it was asked to be `put` on and nothing is wrong."""
    points = SheetText(sheet).titles
    asked = said_in(form, "what")
    what = What(asked) if asked in set(What) else What.FEEDS
    always, behind_key = said_in(form, "always"), said_in(form, "key")
    text = ""
    try:
        text = _text(form)
        read = _netlist(text, sheet) if what is What.NETLIST else _table(form, text, TableKind(what.value), points)
        if put and not read.mistakes:
            read = replace(read, made=_made(read, what, text, sheet, always, behind_key))
    except SheetError as error:
        read = ImportPage(mistakes=list(error.mistakes))
    return replace(read, what=what, text=text, always=always, behind_key=behind_key, points=points)


def _text(form: FormData) -> str:
    """What was pasted, or stands in the chosen file. SheetError where the file is no text, or is too large."""
    file = form.get("file")
    if isinstance(file, UploadFile) and file.filename:
        raw = file.file.read(MOST_BYTES + 1)
        if len(raw) > MOST_BYTES:
            raise SheetError([Mistake(line=0, where="table", text="is larger than a megabyte: save only this table as CSV")])
        return decode(raw)
    pasted = form.get("text", "")
    return pasted.replace("\r\n", "\n").replace("\x00", "") if isinstance(pasted, str) else ""


def _table(form: FormData, text: str, kind: TableKind, points: dict[str, str]) -> ImportPage:
    table = read_table(text, kind)
    wide = len(table.rows[0])
    typed = [said_in(form, f"column-{k}") for k in range(wide)]
    chosen = f"column-{wide - 1}" in form and f"column-{wide}" not in form and said_in(form, "of") == kind.value
    columns = tuple(typed) if chosen else guess_columns(table, kind)
    read = ImportPage(table=table, columns=columns, may_be=COLUMNS[kind])
    try:
        ours = written(table, kind, columns)
    except SheetError as error:
        return replace(read, mistakes=list(error.mistakes))
    understood, mistakes = _feeds_told(ours) if kind is TableKind.FEEDS else _wires_told(ours, points)
    return replace(read, understood=understood, mistakes=mistakes)


def _feeds_told(ours: str) -> tuple[tuple[tuple[int, str], ...], list[Mistake]]:
    feeds, mistakes = read_feeds(ours)
    told = []
    for f in feeds:
        more = [
            "on the same fuse" if f.shares else f"{f.rating_a:g} A" if f.rating_a else "no fuse said",
            f"{f.watts:g} W" if f.watts else "",
            f"{f.asleep_ma:g} mA asleep" if f.asleep_ma else "",
        ]
        more += ["behind the key" if f.behind_key else "always live", f"by {f.by}" if f.by else ""]
        told.append((f.line, f"box {f.box}, {f.slot}: {f.title}, {', '.join(m for m in more if m)}"))
    return tuple(told), mistakes


def _wires_told(ours: str, points: dict[str, str]) -> tuple[tuple[tuple[int, str], ...], list[Mistake]]:
    wires, mistakes = read_wires(ours)
    known = {k.casefold() for pair in points.items() for k in pair}

    def end(said: str) -> str:
        return said if said.casefold() in known else f"{said} (new)"

    told = []
    for w in wires:
        size = f"AWG {w.awg}" if w.awg is not None else f"{w.mm2:g} mm²" if w.mm2 else "1 mm² taken"
        told.append((w.line, f"{end(w.start)} to {end(w.end)}, {size}, {w.length_m:g} m{', ' + w.colour if w.colour else ''}"))
    return tuple(told), mistakes


def _netlist(text: str, sheet: str) -> ImportPage:
    before = {e["id"]: e for e in SheetText(sheet).elements}
    after = SheetText(put_netlist(sheet, text))
    changed = [e for e in after.elements if before.get(e["id"]) != e]
    told = tuple((0, f"{e['id']}: {'changed' if e['id'] in before else 'new'}, {e.get('from')} to {e.get('to')}") for e in changed)
    return ImportPage(understood=told or ((0, "nothing is changed by it"),))


def _made(read: ImportPage, what: What, text: str, sheet: str, always: str, behind_key: str) -> str:
    """The sheet with what was read."""
    if what is What.NETLIST or read.table is None:
        return put_netlist(sheet, text)
    ours = written(read.table, TableKind(what.value), read.columns)
    return put_wires(sheet, ours) if what is What.WIRES else put_feeds(sheet, ours, always, behind_key)
