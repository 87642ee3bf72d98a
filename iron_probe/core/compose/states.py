"""Edits of what the operator sets and of the states a machine is tried in."""

from iron_probe.core.compose.edits import wrong_at
from iron_probe.core.compose.naming import LONGEST_TITLE, free_name, word_of
from iron_probe.core.compose.sheet_text import Data, SheetText
from iron_probe.core.errors import unknown_name


def set_position(text: str, state: str, control: str, position: str) -> str:
    """Where a control stands in a state; in its first position it need not be named."""
    sheet = SheetText(text)
    told, positions = _entry(sheet, "states", state), [str(p) for p in _entry(sheet, "controls", control).get("positions") or []]
    if position not in positions:
        raise wrong_at(control, unknown_name("position", position, positions))
    stands = {k: v for k, v in (told.get("set") or {}).items() if k != control}
    if position != positions[0]:
        stands[control] = position
    told = {k: v for k, v in told.items() if k != "set"}
    return sheet.with_entry_changed(
        "states", state, {"title": told.pop("title", state), **({"set": stands} if stands else {}), **told}
    ).text


def add_state(text: str, title: str, like: str) -> str:
    """One more state, with everything set as in another until it is set otherwise."""
    sheet = SheetText(text)
    title = _title(title, "state", "Key on, work lamp on")
    made = {**_entry(sheet, "states", like), "title": title}
    return sheet.with_entries("states", {free_name(word_of(title), sheet.entries("states")): made}).text


def add_control(text: str, title: str, positions: str = "") -> str:
    """Something more that the operator sets: off and on, or the positions named, the first being at rest."""
    sheet = SheetText(text)
    title = _title(title, "control", "Work lamp switch")
    named = [p.strip()[:20] for p in positions.split(",") if p.strip()] or ["off", "on"]
    if len(named) < 2:
        raise wrong_at("control", "needs two positions at least, the first at rest, such as “off, on”")
    return sheet.with_entries("controls", {free_name(word_of(title), sheet.entries("controls")): {"title": title, "positions": named}}).text


def _title(said: str, what: str, example: str) -> str:
    if not said.strip():
        raise wrong_at(what, f"needs a name, such as “{example}”")
    return said.strip()[:LONGEST_TITLE]


def _entry(sheet: SheetText, section: str, name: str) -> Data:
    entries = sheet.entries(section)
    if name not in entries:
        raise wrong_at(section.rstrip("s"), unknown_name(section.rstrip("s"), name, list(entries)))
    return dict(entries[name])
