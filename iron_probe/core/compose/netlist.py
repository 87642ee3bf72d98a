"""A circuit's parts as plain text, a line each, to be read, changed and taken back: type, id, from, to, figures, title.

    wire  crank-wire  key.crank  sol.s  mm2=1.5  length_m=1.2  "Crank wire"

Parts of more than two ends stand in it as remarks: they are changed on the workbench or in the sheet.
"""

import shlex

from iron_probe.core.circuit.element_base import TwoPole
from iron_probe.core.compose.cells import figure_of, whole
from iron_probe.core.compose.edits import NUMBERS, types_where, with_field
from iron_probe.core.compose.naming import LONGEST_TITLE
from iron_probe.core.compose.sheet_text import Data, SheetText
from iron_probe.core.errors import Mistake, SheetError, unknown_name

MOST_LINES = 2000
TWO_ENDED = sorted(types_where(lambda element: issubclass(element, TwoPole)))
"""Types of part that go from one point to another."""


def write_netlist(text: str) -> str:
    """The parts of a sheet as a netlist."""
    rows = [_row(e) for e in SheetText(text).elements]
    widths = [max((len(row[k]) for row in rows if len(row) > 1), default=0) for k in range(4)]
    lines = ["  ".join([*(c.ljust(w) for c, w in zip(row[:4], widths, strict=True)), *row[4:]]) if len(row) > 1 else row[0] for row in rows]
    return "\n".join(["# type  id  from  to  figures  title", *lines]) + "\n"


def _row(element: Data) -> list[str]:
    """A part as cells, or as one remark."""
    title = str(element.get("title", "")).replace('"', "'")
    if element.get("type") not in TWO_ENDED:
        return [f"# {element.get('type')} {element['id']} has more than two ends: {title}"]
    figures = [f"{name}={element[name]}" for name in element if name in NUMBERS]
    return [str(element.get("type")), element["id"], str(element.get("from")), str(element.get("to")), *figures, f'"{title}"']


def put_netlist(text: str, netlist: str) -> str:
    """A netlist put onto a sheet: parts it knows are changed, others added, with the points they name. SheetError with every line that
    cannot be taken; nothing is put on then."""
    sheet = SheetText(text)
    known = {e["id"]: e for e in sheet.elements}
    mistakes: list[Mistake] = []
    changed: dict[str, Data] = {}
    lines = netlist.replace("\r\n", "\n").split("\n")
    if len(lines) > MOST_LINES:
        raise SheetError([Mistake(line=0, where="netlist", text=f"{len(lines):,} lines are more than the {MOST_LINES} a netlist may have")])
    for number, line in enumerate(lines, start=1):
        element, wrong = _element(line, known)
        if element and element["id"] in changed:
            wrong.append(f"{element['id']} is there already: each part once")
        mistakes += [Mistake(line=number, where="netlist", text=w) for w in wrong]
        if element and not wrong:
            changed[element["id"]] = element
    if mistakes or not changed:
        none = 'no part is listed: a line each, such as “wire lamp-wire key.run lamp.feed mm2=1.5 length_m=2 "Lamp wire"”'
        raise SheetError(mistakes or [Mistake(line=0, where="netlist", text=none)])
    ends = [str(e[k]) for e in changed.values() for k in ("from", "to")]
    sheet = sheet.with_entries("points", {p: {"title": p, "minutes": 1.0} for p in ends if p not in sheet.points})
    for name, element in changed.items():
        if name in known and element != known[name]:
            sheet = sheet.replaced(name, element)
    fresh = [e for name, e in changed.items() if name not in known]
    return (sheet.added(*fresh) if fresh else sheet).text


def _element(line: str, known: dict[str, Data]) -> tuple[Data | None, list[str]]:
    """The part a line names, over what the sheet says of it, and what is wrong with the line; None where it is empty."""
    try:
        words = shlex.split(line, comments=True)
    except ValueError:
        return None, ["has a quotation mark that is not closed"]
    if not words:
        return None, []
    if len(words) < 4:
        return None, ["says not type, id, from and to"]
    (kind, name, start, end), wrong = words[:4], []
    if kind not in TWO_ENDED:
        return None, [unknown_name("type of two ends", kind, TWO_ENDED)]
    said: Data = {"id": name, "type": kind, "title": name, "from": start, "to": end}
    before = known.get(name, {})
    if before and before.get("type") == kind:
        said = {**before, "from": start, "to": end}
    for word in words[4:]:
        figure, is_figure, value = word.partition("=")
        if not is_figure:
            said["title"] = word[:LONGEST_TITLE]
        elif figure not in NUMBERS:
            wrong.append(unknown_name("figure", figure, sorted(NUMBERS)))
        elif (number := figure_of(value)) is None:
            wrong.append(f"{figure} is a number, such as 2.5; “{value[:20]}” is none")
        else:
            said = with_field(said, figure, whole(number))
    return said, wrong
