"""What the workbench shows: the feed list of a draft with each mistake beside its part, and the draft drawn."""

from dataclasses import dataclass
from typing import Any

from markupsafe import Markup
from starlette.datastructures import FormData

from iron_probe.core.circuit.fuse_boxes import Box, boxes_of
from iron_probe.core.circuit.network import SheetKey
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.compose.edits import NUMBERS, POSITIONS, change, copy, join, put_in, said_positions, split, strike_out
from iron_probe.core.compose.feeds import read_feeds
from iron_probe.core.compose.sheet_text import SheetText
from iron_probe.core.compose.states import add_control, add_state, set_position
from iron_probe.core.compose.tap import tap
from iron_probe.core.draw.feed_map import FeedMap
from iron_probe.core.errors import Mistake, SheetError
from iron_probe.web.bench.drawing import Folding, ink_of, map_of
from iron_probe.web.machines.page import checked
from iron_probe.web.page import field


@dataclass(frozen=True, slots=True)
class Row:
    """A part of the list: its fields as they are written, and what is wrong with it."""

    id: str
    type: str
    title: str
    start: str | None
    end: str | None
    figures: tuple[tuple[str, Any], ...]
    tags: str
    wrong: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Workbench:
    """A draft of a circuit: its text, its parts, what is wrong elsewhere in it, and drawn when nothing is; `refused` says why the last edit
    was not made."""

    text: str
    rows: tuple[Row, ...]
    states: dict[str, dict[str, Any]]
    controls: dict[str, dict[str, Any]]
    boxes: tuple[Box, ...]
    points: dict[str, str]
    mistakes: tuple[Mistake, ...]
    sheet: Sheet | None
    drawing: FeedMap | None
    ink: Markup | None
    refused: str
    picked: str


def edited(form: FormData, text: str) -> str:
    """The draft after the edit a form asks for; SheetError when it cannot be made."""
    part, title = field(form, "part"), field(form, "title")
    match field(form, "do"):
        case "change":
            return change(text, part, field(form, "field"), field(form, "value")[:200])
        case "plug":
            return put_in(text, part, title)
        case "joint":
            return put_in(text, part, title, "joint")
        case "copy":
            return copy(text, part, title)
        case "split":
            return split(text, part)
        case "strike":
            return strike_out(text, part)
        case "join":
            return join(text, field(form, "at"), field(form, "to"), title)
        case "set":
            return set_position(text, part, field(form, "field"), field(form, "value"))
        case "state":
            return add_state(text, field(form, "added"), field(form, "like"))
        case "control":
            return add_control(text, field(form, "added"), field(form, "positions"))
        case "tap":
            return _tapped(text, field(form, "at"), field(form, "what"))
    return text


def _tapped(text: str, at: str, what: str) -> str:
    feeds, mistakes = read_feeds(what.replace("\n", " "))
    if mistakes or len(feeds) != 1:
        told = mistakes[0].text if mistakes else "say what is tapped in, such as “Tracker, 5 A, 6 mA” or “Work lamp, 10 A, 55 W”"
        raise SheetError([Mistake(line=0, where="accessory", text=told)])
    return tap(text, at, feeds[0])


def workbench(text: str, refused: str = "", picked: str = "") -> Workbench:
    """A draft as it is shown; SheetError when its text is no sheet at all."""
    draft = SheetText(text)
    sheet, mistakes = checked(text)
    elements = draft.elements
    lines = [draft.line_of(e["id"]) for e in elements]
    of_part: dict[str, list[str]] = {}
    elsewhere = []
    for m in mistakes:
        at = max((k for k, line in enumerate(lines) if line <= m.line), default=None) if m.line else None
        if at is not None and m.where.startswith("element"):
            of_part.setdefault(elements[at]["id"], []).append(m.text)
        else:
            elsewhere.append(m)
    whole = Folding(SheetKey(sheet)) if sheet else None
    return Workbench(
        text, tuple(_row(e, tuple(of_part.get(e["id"], ()))) for e in elements),
        draft.entries("states"), draft.entries("controls"), boxes_of(sheet) if sheet else (),
        draft.titles, tuple(elsewhere), sheet,
        map_of(whole) if whole else None, ink_of(whole, next(iter(sheet.states))) if whole and sheet else None, refused, picked,
    )  # fmt: skip


def _row(element: dict[str, Any], wrong: tuple[str, ...]) -> Row:
    figures = tuple(
        (n, said_positions(v) if n in POSITIONS and isinstance(v, dict) else v) for n, v in element.items() if n in NUMBERS | POSITIONS
    )
    tags = element.get("tags", [])
    return Row(
        element["id"], str(element.get("type", "")), str(element.get("title", "")), element.get("from"), element.get("to"), figures,
        " ".join(map(str, tags)) if isinstance(tags, list) else str(tags), wrong,
    )  # fmt: skip
