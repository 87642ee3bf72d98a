"""Consumers put onto a sheet: an accessory tapped in at a point, a table of fuses with what they feed."""

from collections.abc import Sequence

from iron_probe.core.compose.consumers import put_on
from iron_probe.core.compose.edits import common_ground, point_named, wrong_at
from iron_probe.core.compose.feeds import Feed, read_feeds
from iron_probe.core.compose.naming import free_name, word_of
from iron_probe.core.compose.plan import Plan
from iron_probe.core.compose.sheet_text import SheetText
from iron_probe.core.compose.write_sheet import positions_there
from iron_probe.core.errors import SheetError

SPLICE_M = 1.0
"""What the wire of a consumer put on is taken to have, until it is said [m] (chosen here)."""


def tap(text: str, at: str, feed: Feed, ground: str = "") -> str:
    """An accessory fed from a point: its fuse in line if one was said, its switch if it has one, its wire, and itself, back to `ground` (or
    where most things of the machine come back to)."""
    sheet = SheetText(text)
    source = point_named(sheet, at)
    return _with(
        sheet, [feed], {"box1": source, "ign": source, "body": point_named(sheet, ground) if ground else common_ground(sheet)}, True
    )


def put_feeds(text: str, table: str, always: str, behind_key: str = "") -> str:
    """A table of fuses put onto a sheet: what is always live fed from one point, what lives behind the key from another. SheetError with
    every line that cannot be taken; nothing is put on then."""
    feeds, mistakes = read_feeds(table)
    if mistakes:
        raise SheetError(mistakes)
    if not feeds:
        raise wrong_at("feeds", "no fuse is listed: a line each, such as “F3; 15 A; Horn”")
    if any(f.behind_key for f in feeds) and not behind_key:
        raise wrong_at("feeds", "some live behind the key: say which point feeds those")
    sheet = SheetText(text)
    source = point_named(sheet, always)
    key = point_named(sheet, behind_key) if behind_key else source
    return _with(sheet, feeds, {"box1": source, "box2": source, "ign": key, "body": common_ground(sheet)}, False)


def _with(sheet: SheetText, feeds: Sequence[Feed], ends: dict[str, str], accessory: bool) -> str:
    """The sheet with consumers put on between some of its points; a switch is tried as the first state behind rest in which nothing cranks."""
    controls, states = sheet.entries("controls"), sheet.entries("states")
    plan = Plan(figures={"volts": sheet.system_v, "loom_m": SPLICE_M}, controls=dict(controls), states=dict(states), ends=ends)
    awake = [name for name, told in list(states.items())[1:] if not told.get("cranking")]
    taken = {e["id"].rpartition("-")[0] or e["id"] for e in sheet.elements} | {e["id"] for e in sheet.elements}
    named = []
    for feed in feeds:
        name = free_name(word_of(feed.title), taken)
        taken.add(name)
        named.append((name, feed))
    titles = {title.casefold() for title in sheet.titles.values()}
    put_on(plan, named, "", titles, like=next(iter(awake or states), ""), accessory=accessory)
    made = sheet.with_entries("points", plan.points)
    for section, known, now in (("controls", controls, plan.controls), ("states", states, plan.states)):
        made = made.with_entries(section, {name: entry for name, entry in now.items() if name not in known})
    return made.added(*(positions_there(e, plan) for e in plan.elements)).text
