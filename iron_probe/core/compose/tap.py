"""Consumers put onto a sheet: an accessory tapped in at a point, a table of fuses with what they feed."""

from iron_probe.core.compose.edits import common_ground, free_title, point_named, word_of, wrong_at
from iron_probe.core.compose.feeds import Feed, read_feeds
from iron_probe.core.compose.sheet_text import Data, SheetText, free_name
from iron_probe.core.compose.sizes import WIRE_DROP_SHARE, cable_mm2
from iron_probe.core.errors import SheetError

SPLICE_M, LEAST_MM2 = 1.0, 1.0
"""What the wire of an accessory is taken to have [m], and the least it has [mm²] (common practice)."""
LEAST_AWAKE_A = 0.05


def tap(text: str, at: str, feed: Feed, ground: str = "") -> str:
    """An accessory fed from a point: its fuse in line if one was said, its switch if it has one, its wire, and itself, back to `ground` (or
    where most things of the machine come back to)."""
    sheet = SheetText(text)
    added = _Added(sheet, point_named(sheet, ground) if ground else common_ground(sheet), ["aftermarket"])
    added.consumer(feed, point_named(sheet, at), {"box": "in line"})
    return added.text()


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
    added = _Added(sheet, common_ground(sheet), [])
    points = {True: point_named(sheet, behind_key) if behind_key else "", False: point_named(sheet, always)}
    for feed in feeds:
        added.consumer(feed, points[feed.behind_key], {"box": f"box {feed.box}", "slot": feed.slot})
    return added.text()


class _Added:
    """What is added to a sheet, written into its text in one go."""

    def __init__(self, sheet: SheetText, ground: str, tags: list[str]) -> None:
        self.sheet, self.ground, self.tags = sheet, ground, tags
        self.entries: dict[str, dict[str, Data]] = {"points": {}, "controls": {}, "states": {}}
        self.elements: list[Data] = []
        self.outputs: dict[tuple[int, str], str] = {}
        self.ids = {e["id"] for e in sheet.elements}
        self.names, self.titles = set(sheet.points), sheet.titles

    def text(self) -> str:
        """The sheet with all of it."""
        made = self.sheet
        for section, entries in self.entries.items():
            made = made.with_entries(section, entries)
        return made.added(*self.elements).text

    def consumer(self, feed: Feed, at: str, box: Data) -> None:
        """A consumer from the point that feeds it to its ground; one that draws something asleep is a module."""
        if feed.shares:
            at = self.outputs.get((feed.box, feed.slot), at)
        elif feed.rating_a:
            at = self._in_line(feed, "fuse", "fuse output", at, {"type": "fuse", "rating_a": feed.rating_a, **box})
            self.outputs[feed.box, feed.slot] = at
        if feed.by:
            at = self._in_line(feed, "switch", "switch output", at, {"type": "switch", "closed_in": {self._control(feed.by): ["on"]}})
        volts = self.sheet.system_v
        drawn_a = round(feed.drawn_w(volts), 1) / volts
        area = max(LEAST_MM2, cable_mm2(drawn_a, SPLICE_M, WIRE_DROP_SHARE * volts))
        at = self._in_line(feed, "wire", "feed", at, {"type": "wire", "mm2": area, "length_m": SPLICE_M})
        if feed.asleep_ma:
            awake_a, asleep_a = round(max(drawn_a, LEAST_AWAKE_A), 3), feed.asleep_ma / 1000
            made = {"type": "module", "supply": at, "ground": self.ground, "draw_a": awake_a, "asleep_a": asleep_a, "volts": int(volts)}
        else:
            made = {"type": "load", "from": at, "to": self.ground, "watts": round(drawn_a * volts, 1), "volts": volts}
        self._element(word_of(feed.title), feed.title, made)

    def _in_line(self, feed: Feed, part: str, place: str, start: str, element: Data) -> str:
        """A part from a point to a new one, which is given back."""
        end = free_name(f"{word_of(feed.title)}.{place.partition(' ')[0]}", self.names)
        title = free_title(f"{feed.title[0].lower()}{feed.title[1:]} {place}", self.titles)
        self.names.add(end)
        self.titles.add(title)
        self.entries["points"][end] = {"title": title, "minutes": 1.0 if part == "fuse" else 2.0}
        self._element(f"{word_of(feed.title)}-{part}", f"{feed.title} {part}", {"from": start, "to": end, **element})
        return end

    def _element(self, name: str, title: str, element: Data) -> None:
        name = free_name(name, self.ids)
        self.ids.add(name)
        kind = element.pop("type")
        self.elements.append({"id": name, "type": kind, "title": title[:60], **element, **({"tags": self.tags} if self.tags else {})})

    def _control(self, by: str) -> str:
        """The control of a switch, made where it is new, with a state that sets it: as the first one behind rest in which nothing cranks."""
        name, made = word_of(by), self.entries
        if name in made["controls"] or name in self.sheet.entries("controls"):
            return name
        states = self.sheet.entries("states")
        told = list(states.values())
        awake = next((s for s in told[1:] if not s.get("cranking")), told[0] if told else {})
        made["controls"][name] = {"title": by[:60], "positions": ["off", "on"]}
        state = {**awake, "title": f"{by} on"[:60], "set": {**(awake.get("set") or {}), name: "on"}}
        made["states"][free_name(f"on-{name}", set(states) | set(made["states"]))] = state
        return name
