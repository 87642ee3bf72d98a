"""The table of fuses and what they feed, as it is pasted or typed: box, slot, rating, consumer, how it is switched, what it draws.

Each cell is told by what it holds: `F12` is a slot, `15` or `15 A` a rating, `110 W` a
consumer's power, `8 mA` what it draws asleep, `key` that it lives behind the key, `switch` or `by ...` that a switch of that name turns it
on; the first words left are what is fed. A line `box 2` begins another box, a cell `box 2` puts its line there. A slot that was there before feeds one consumer more. Only what is fed must be there.
"""

import re
from dataclasses import dataclass, replace

from iron_probe.core.compose.cells import TABLE_FORMULA, cells_of, figure_of, is_formula
from iron_probe.core.errors import Mistake

MOST_LINES = 300
"""Lines a table may have: the largest machine known has some hundred and twenty fuses."""
MOST_TEXT = 60
KEY_WORDS = {"key", "ignition", "switched", "run"}
ALWAYS_WORDS = {"always", "battery", "permanent", "live"}
HEADINGS = {
    "slot",
    "no",
    "fuse",
    "rating",
    "amps",
    "a",
    "feeds",
    "consumer",
    "circuit",
    "watts",
    "w",
    "asleep",
    "ma",
    "by",
    "live",
    "box",
    "switched by",
}
SHARE_OF_RATING = 0.4
"""A consumer whose power is not given is taken to draw this share of its fuse's rating (a fuse is chosen 1.3 to 3 times over: common practice)."""
SHARED_OF_RATING = 0.1
"""The same of one that shares its fuse with others (chosen here)."""
USUAL_A = 10.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Feed:
    """A fuse and its consumer. `behind_key`, or else always live; `by` names the switch that turns it on; `asleep_ma` what it draws when
    the machine sleeps; `watts` None where nobody said; it `shares` the fuse of the line before that has its slot."""

    line: int
    box: int
    slot: str
    title: str
    rating_a: float | None = None
    watts: float | None = None
    asleep_ma: float = 0.0
    behind_key: bool = False
    by: str = ""
    shares: bool = False

    def drawn_w(self, volts: float) -> float:
        """What it draws when on [W], assumed from its fuse where nobody said."""
        if self.watts is not None:
            return self.watts
        return (SHARED_OF_RATING if self.shares else SHARE_OF_RATING) * (self.rating_a or USUAL_A) * volts


def read_feeds(text: str) -> tuple[list[Feed], list[Mistake]]:
    """The feeds of a table and everything that cannot be taken, by line."""
    lines = text.replace("\r\n", "\n").split("\n")
    if len(lines) > MOST_LINES:
        return [], [
            Mistake(
                line=0,
                where="feeds",
                text=f"{len(lines):,} lines are more than the {MOST_LINES} a table may have: paste one machine's boxes",
            )
        ]
    found: list[Feed] = []
    mistakes: list[Mistake] = []
    box, slots = 1, dict[tuple[int, str], Feed]()
    for number, line in enumerate(lines, start=1):
        cells = [c for c in cells_of(line) if c]
        if not cells or line.lstrip().startswith("#") or _is_heading(cells):
            continue
        if heading := re.fullmatch(r"box\s+([12])\s*:?", " ".join(cells), re.IGNORECASE):
            box = int(heading[1])
            continue
        feed, wrong = _read_line(cells, Feed(line=number, box=box, slot=f"{number}", title=""))
        first = slots.get((feed.box, feed.slot)) if feed else None
        if feed and first:
            if feed.rating_a not in (None, first.rating_a):
                wrong.append(
                    f"slot {feed.slot} of box {feed.box} is {first.rating_a or 0:g} A in line {first.line} and {feed.rating_a:g} A here: say one"
                )
            feed = replace(feed, rating_a=first.rating_a, behind_key=first.behind_key, shares=True)
        mistakes += [Mistake(line=number, where="feeds", text=w) for w in wrong]
        if feed and not wrong:
            slots.setdefault((feed.box, feed.slot), feed)
            found.append(feed)
    return found, mistakes


def _is_heading(cells: list[str]) -> bool:
    return len(cells) > 1 and sum(c.casefold() in HEADINGS for c in cells) >= len(cells) / 2 and not any(re.search(r"\d", c) for c in cells)


def _read_line(cells: list[str], feed: Feed) -> tuple[Feed | None, list[str]]:
    words: list[str] = []
    wrong: list[str] = []
    slot_seen = False
    for cell in cells:
        told = cell.casefold()
        if is_formula(cell):
            wrong.append(f"“{cell[:20]}”: {TABLE_FORMULA}")
        elif match := re.fullmatch(r"([\d.,]+)\s*(a|amps?|w|watts?|ma|kw)?", told):
            feed, bad = _figure(feed, match[1], (match[2] or "a").rstrip("s"))
            wrong += bad
        elif match := re.fullmatch(r"box\s+([12])", told):
            feed = replace(feed, box=int(match[1]))
        elif told in KEY_WORDS:
            feed = replace(feed, behind_key=True)
        elif told in ALWAYS_WORDS:
            feed = replace(feed, behind_key=False)
        elif told == "switch":
            feed = replace(feed, by="*")
        elif told.startswith("by "):
            feed = replace(feed, by=cell[3:].strip()[:MOST_TEXT])
        elif not slot_seen and re.fullmatch(r"[A-Za-z]{1,2}\d{1,3}", cell):
            feed, slot_seen = replace(feed, slot=cell.upper()), True
        else:
            words.append(cell)
    title = ", ".join(words)[:MOST_TEXT]
    if not re.search(r"[^\W\d_]", title):
        return None, wrong or ["says no consumer: name what this fuse feeds, such as “F3, 15 A, Horn”"]
    title = title[0].upper() + title[1:]
    return replace(feed, title=title, by=f"{title} switch"[:MOST_TEXT] if feed.by == "*" else feed.by), wrong


def _figure(feed: Feed, digits: str, unit: str) -> tuple[Feed, list[str]]:
    if (value := figure_of(digits)) is None:
        return feed, [f"“{digits}” is no number"]
    if unit == "ma":
        return (replace(feed, asleep_ma=value), []) if 0 < value <= 5000 else (feed, [f"{value:g} mA asleep: from 0.1 to 5000"])
    if unit in ("w", "watt", "kw"):
        watts = value * 1000 if unit == "kw" else value
        return (replace(feed, watts=watts), []) if 0.1 <= watts <= 5000 else (feed, [f"{watts:g} W: from 0.1 to 5000"])
    return (replace(feed, rating_a=value), []) if 0.5 <= value <= 200 else (feed, [f"a fuse of {value:g} A: from 0.5 to 200"])


def sleepers(text: str) -> tuple[list[tuple[str, float]], list[Mistake]]:
    """What sleeps and what it draws asleep [mA], from lines such as `Alarm, 8 mA`, and what cannot be taken."""
    found, mistakes = read_feeds(text)
    mistakes += [
        Mistake(line=f.line, where="sleeps", text=f"{f.title}: say what it draws asleep, such as “{f.title}, 8 mA”")
        for f in found
        if not f.asleep_ma
    ]
    return [(f.title, f.asleep_ma) for f in found if f.asleep_ma], [replace(m, where="sleeps") for m in mistakes]
