"""Edits of a circuit as a technician says them: a plug here, this wire in two, an accessory tapped in, a feed moved, a part struck out."""

import re
from collections import Counter
from collections.abc import Callable, Iterable
from typing import get_args

import networkx as nx

from iron_probe.core.circuit.element_base import ElementBase
from iron_probe.core.circuit.elements import Element
from iron_probe.core.compose.cells import figure_of, whole
from iron_probe.core.compose.naming import LONGEST_TITLE, free_name, free_title, word_of
from iron_probe.core.compose.sheet_text import Data, SheetText, point_fields, renamed
from iron_probe.core.errors import Mistake, SheetError, unknown_name

NUMBERS = {
    "rating_a", "mm2", "awg", "length_m", "r_mohm", "watts", "ohm", "coil_ohm", "load_a", "stall_mohm", "capacity_ah", "cca_a", "rated_a",
    "asleep_a", "draw_a",
}  # fmt: skip
WORDS = {"title", "from", "to", "box", "slot", "type", "part", "kind", "material", "chemistry"}
"""Fields of an element that are changed in the list; all others in its text."""
POSITIONS = {"closed_in", "on_in", "awake_in"}
"""Fields that say in which positions of which controls a part is closed or on."""


def types_where(so: Callable[[type[ElementBase]], bool]) -> frozenset[str]:
    """The types of part for which something holds."""
    return frozenset(
        kind for element in get_args(get_args(Element)[0]) if so(element) for kind in get_args(element.model_fields["type"].annotation)
    )


SERIES = types_where(lambda element: element.feeds_on)
"""Parts that lie in line: current goes in at one end and out at the other."""
WIRE_SIZES = ("mm2", "awg", "r_mohm")
"""Of these a conductor has one: a new one takes the old one's place."""
JOINED_MM2, JOINED_M = 1.0, 1.0
"""What a wire between two points is taken to have, until it is said [mm², m] (chosen here)."""
PLUG_MOHM = 5.0
"""What a plug pin put in is taken to have [mΩ] (common practice)."""


def change(text: str, element_id: str, name: str, value: str) -> str:
    """One field of an element as it was typed; an empty one is taken away. SheetError when that field is not one to be typed so."""
    sheet = SheetText(text)
    element = sheet.element(element_id)
    value = value.strip()
    if name == "tags":
        typed: object = [t for t in re.split(r"[\s,]+", value) if t]
    elif name in NUMBERS:
        typed = _number(element_id, name, value)
    elif name == "place":
        typed = _place(element_id, value)
    elif name in POSITIONS:
        typed = _positions(element_id, value)
    elif name in WORDS:
        typed = point_named(sheet, value) if name in ("from", "to") else value
    else:
        raise wrong_at(element_id, unknown_name("field", name, sorted(NUMBERS | WORDS | POSITIONS | {"tags", "place"})))
    element = with_field(element, name, typed) if typed not in ("", [], {}, None) else {k: v for k, v in element.items() if k != name}
    return _tidied(sheet.replaced(element_id, element)).text


def _place(element_id: str, said: str) -> list[int]:
    """Row and column in its box, as “2, 3”."""
    if not said:
        return []
    if not (at := re.fullmatch(r"(\d{1,2})\s*[,.; ]\s*(\d{1,2})", said)):
        raise wrong_at(element_id, f"place is row and column in its box, such as 2, 3; “{said[:20]}” is none")
    return [int(at[1]), int(at[2])]


def with_field(element: Data, name: str, value: object) -> Data:
    """An element with a field set; of the sizes of a conductor a new one takes the old one's place."""
    others = WIRE_SIZES if name in WIRE_SIZES else ()
    return {**{k: v for k, v in element.items() if k == name or k not in others}, name: value}


def said_positions(positions: Data) -> str:
    """Where a switch closes, as it is typed: “key: run crank; brake: down”."""
    return "; ".join(f"{control}: {' '.join(map(str, at)) if isinstance(at, list) else at}" for control, at in positions.items())


def _positions(element_id: str, said: str) -> Data:
    found: Data = {}
    for part in filter(None, (p.strip() for p in said.split(";"))):
        control, named, at = part.partition(":")
        if not named or not at.split():
            raise wrong_at(element_id, "says its controls with their positions, such as “key: run crank”")
        found[control.strip()] = re.split(r"[\s,]+", at.strip())
    return found


def _number(element_id: str, name: str, value: str) -> float | int | None:
    if not value:
        return None
    if (figure := figure_of(value)) is None:
        raise wrong_at(element_id, f"{name} is a number, such as 2.5; “{value[:20]}” is none")
    return whole(figure)


def point_named(sheet: SheetText, said: str) -> str:
    """The point that was said by its name or its title."""
    points = sheet.points
    if said in points:
        return said
    by_title = [n for n, p in points.items() if str(p.get("title", "")).casefold() == said.casefold()]
    if not by_title:
        raise wrong_at("point", unknown_name("point", said, [*points, *(str(p.get("title", "")) for p in points.values())]))
    return by_title[0]


def put_in(text: str, element_id: str, title: str, kind: str = "plug") -> str:
    """A joint put into a wire or beside a part, at the end of it: "a plug here". The part now ends at the new point."""
    sheet = SheetText(text)
    element = sheet.element(element_id)
    end = "to" if "to" in element else next((p[-1] for p, _ in point_fields(element) if len(p) == 1), None)
    if end is None:
        raise wrong_at(element_id, "has no end that something could be put into")
    title = (title.strip() or f"Joint at {element.get('title', element_id)}")[:LONGEST_TITLE]
    point = free_name(f"{word_of(title)}.in", set(sheet.points))
    joint = {
        "id": free_name(word_of(title), {e["id"] for e in sheet.elements}), "type": kind, "title": title,
        "from": point, "to": element[end], "r_mohm": PLUG_MOHM, "tags": ["exposed"],
    }  # fmt: skip
    made = sheet.replaced(element_id, {**element, end: point}, joint)
    return made.with_point(
        point, free_title(f"{title[0].lower()}{title[1:]}, near side", sheet.titles.values()), sheet.minutes_to(str(element[end]))
    ).text


def seen(text: str, elements: Iterable[str]) -> str:
    """A sheet on which some parts are no longer only assumed."""
    sheet = SheetText(text)
    listed = set(elements)
    for element in sheet.elements:
        if element["id"] in listed and element.pop("assumed", False):
            sheet = sheet.replaced(element["id"], element)
    return sheet.text


def changed_is_seen(text: str, before: str) -> str:
    """A changed sheet on which no part is only assumed any more that differs from the sheet `before`: somebody has said what it is."""
    was = {e["id"]: e for e in SheetText(before).elements}
    return seen(text, [e["id"] for e in SheetText(text).elements if e.get("assumed") and e != was.get(e["id"], e)])


def copy(text: str, element_id: str, title: str = "") -> str:
    """The same part once more, between the same points: to be moved where it belongs."""
    sheet = SheetText(text)
    element = sheet.element(element_id)
    title = (title.strip() or f"{element.get('title', element_id)} again")[:LONGEST_TITLE]
    fresh = {k: v for k, v in element.items() if k not in ("slot", "place", "assumed")}
    name = free_name(word_of(title), {e["id"] for e in sheet.elements})
    return sheet.replaced(element_id, element, {**fresh, "id": name, "title": title}).text


def split(text: str, element_id: str) -> str:
    """A wire or cable in two halves with a point to probe between them."""
    sheet = SheetText(text)
    element = sheet.element(element_id)
    if element.get("type") not in ("wire", "cable", "frame"):
        raise wrong_at(element_id, "is no wire or cable: only those can be split")
    point = free_name(f"{element_id}.mid", set(sheet.points))
    half = {k: (v / 2 if k in ("length_m", "r_mohm") and isinstance(v, int | float) else v) for k, v in element.items()}
    ids = {e["id"] for e in sheet.elements}
    far = {
        **half,
        "id": free_name(f"{element_id}-far", ids),
        "title": f"{str(element.get('title', element_id))[:52]}, on",
        "from": point,
    }
    made = sheet.replaced(element_id, {**half, "to": point}, far)
    return made.with_point(point, free_title(f"middle of {str(element.get('title', element_id)).lower()}", sheet.titles.values()), 2.0).text


def join(text: str, start: str, end: str, title: str = "") -> str:
    """A wire between two points of the sheet: a bridge, or a feed that the drawing lacks."""
    sheet = SheetText(text)
    a, b = point_named(sheet, start), point_named(sheet, end)
    if a == b:
        raise wrong_at("wire", "goes from one point to another: both are the same")
    title = (title.strip() or f"Wire to {sheet.points[b].get('title', b)}")[:LONGEST_TITLE]
    name = free_name(word_of(title), {e["id"] for e in sheet.elements})
    return sheet.added({"id": name, "type": "wire", "title": title, "from": a, "to": b, "mm2": JOINED_MM2, "length_m": JOINED_M}).text


def feed(text: str, element_id: str) -> str:
    """A feed that the drawing lacks: from battery plus to where a part leads."""
    sheet = SheetText(text)
    element = sheet.element(element_id)
    if "to" not in element or not isinstance(sheet.header.get("plus"), str):
        raise wrong_at(element_id, "leads to no point that could be fed")
    return join(text, sheet.header["plus"], str(element["to"]), f"Feed behind {element.get('title', element_id)}")


def common_ground(sheet: SheetText) -> str:
    """The point most consumers come back to."""
    ends = Counter(str(e["to"]) for e in sheet.elements if e.get("type") in ("load", "lamp", "ground") and "to" in e)
    ends += Counter(str(e["ground"]) for e in sheet.elements if e.get("type") == "module" and "ground" in e)
    if not ends:
        raise wrong_at("ground", "nothing on this sheet shows where consumers come back to: say the ground point")
    return ends.most_common(1)[0][0]


def strike_out(text: str, element_id: str) -> str:
    """A part this machine has not: what lay in line is joined through, what hung on it alone goes with it."""
    sheet = SheetText(text)
    element = sheet.element(element_id)
    kept = [e for e in sheet.elements if e.get("id") != element_id]
    ends = [str(element[k]) for k in ("from", "to") if k in element]
    made = sheet.replaced(element_id)
    touching = Counter(p for e in kept for _, p in point_fields(e))
    in_line = any(touching[end] == 1 for end in ends)  # only one other part goes on from there
    if element.get("type") in SERIES and len(ends) == 2 and (in_line or not _still_joined(kept, *ends)):
        fixed = {str(sheet.header.get(k)) for k in ("plus", "minus")}
        gone, stays = (ends[1], ends[0]) if ends[1] not in fixed else (ends[0], ends[1])
        for e in kept:
            if gone in {p for _, p in point_fields(e)} | {str(n.get("point")) for n in _needs(e)}:
                made = made.replaced(e["id"], renamed(e, gone, stays))
        return _tidied(made).text
    return _tidied(_pruned(made)).text


def _needs(element: Data) -> list[Data]:
    outputs = element.get("outputs", [])
    return (
        [n for o in outputs if isinstance(o, dict) for n in o.get("needs") or [] if isinstance(n, dict)]
        if isinstance(outputs, list)
        else []
    )


def _still_joined(elements: list[Data], a: str, b: str) -> bool:
    """Whether two points are still joined by parts that lie in line."""
    ways = nx.Graph((str(e["from"]), str(e["to"])) for e in elements if e.get("type") in SERIES and "from" in e and "to" in e)
    return a in ways and b in ways and nx.has_path(ways, a, b)


def _pruned(sheet: SheetText) -> SheetText:
    """Without wires, fuses and switches that now lead nowhere."""
    while True:
        ends = Counter(p for e in sheet.elements for _, p in point_fields(e))
        loose = next((e for e in sheet.elements if e.get("type") in SERIES and any(ends[str(e.get(k))] == 1 for k in ("from", "to"))), None)
        if loose is None or len(sheet.elements) < 3:
            return sheet
        sheet = sheet.replaced(loose["id"])


def _tidied(sheet: SheetText) -> SheetText:
    """Without points that nothing touches."""
    touched = {p for e in sheet.elements for _, p in point_fields(e)}
    return sheet.without_points({p for p in sheet.points if p not in touched})


def wrong_at(where: str, text: str) -> SheetError:
    """An edit that cannot be made, and why."""
    return SheetError([Mistake(line=0, where=where, text=text)])
