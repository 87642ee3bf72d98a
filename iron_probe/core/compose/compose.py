"""A circuit sheet put together from answers about a machine."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.compose.consumers import add_feeds, add_states
from iron_probe.core.compose.feeds import read_feeds, sleepers
from iron_probe.core.compose.pattern_book import STAGES, Block, Figure, PatternBook
from iron_probe.core.compose.plan import Plan
from iron_probe.core.compose.settle import Said, Settled, holds, settle
from iron_probe.core.compose.sizes import sizes
from iron_probe.core.compose.write_sheet import write_sheet
from iron_probe.core.errors import Mistake


@dataclass(frozen=True, slots=True)
class Composed:
    """A sheet from answers: its text, the sheet, the answers as they were settled, the question each element comes from, and the mistakes
    in what was said (where an answer could not be taken, the usual one stands). Elements that stand there only because such machines usually have them are marked so."""

    text: str
    sheet: Sheet
    settled: Settled
    came_from: Mapping[str, str]
    mistakes: tuple[Mistake, ...] = field(default=())

    @property
    def assumed(self) -> frozenset[str]:
        """Elements that nobody has said of this machine."""
        return frozenset(e.id for e in self.sheet.elements if e.assumed)


def compose(book: PatternBook, said: Said, sheet_id: str = "", title: str = "") -> Composed:
    """Put a sheet together; SheetError when the kind is unknown, or where the blocks of the book do not fit each other."""
    settled = settle(book, said)
    feeds, wrong_feeds = read_feeds(str(settled.answers["feeds"]))
    asleep, wrong_sleeps = sleepers(str(settled.answers["sleeps"]))
    figures = _figures(book, settled)
    volts = float(figures["volts"])
    figures["feeds_w"] = float(figures["box_more_w"]) + sum(f.drawn_w(volts) for f in feeds)
    figures["key_w"] = float(figures["key_more_w"]) + sum(f.drawn_w(volts) for f in feeds if f.behind_key)
    plan = Plan(sizes(figures))
    for question, name, block in _blocks(book, settled):
        plan.add(block, name, question)
    add_feeds(plan, feeds, asleep)
    add_states(plan)
    plan.elements = [e | {"assumed": True} if plan.came_from[e["id"]] not in settled.said else e for e in plan.elements]
    text = write_sheet(_header(settled, plan.figures, sheet_id, title, _about(book, settled)), plan)
    return Composed(text, read_sheet(text), settled, plan.came_from, (*settled.mistakes, *wrong_feeds, *wrong_sleeps))


def _figures(book: PatternBook, settled: Settled) -> dict[str, Figure]:
    """Figures of the kind, overridden by those of the choices in their order."""
    figures: dict[str, Figure] = {"key_more_w": 60.0, "box_more_w": 0.0, **settled.kind.figures}
    for _, choice in settled.chosen(book):
        figures |= choice.figures
    # a machine of the kind is larger or smaller than a car, and so are its cables
    figures["main_m"] = round(float(figures["main_m"]) * float(figures["length_factor"]), 2)
    return figures


def _blocks(book: PatternBook, settled: Settled) -> Iterator[tuple[str, str, Block]]:
    """The blocks of all choices with their question and name, in the order of their stages."""
    found: list[tuple[str, str]] = []
    for question, choice in settled.chosen(book):
        for one in choice.blocks:
            if isinstance(one, str):
                found.append((question, one))
            elif holds(one.when, one.unless, settled.answers):
                found.append((question, one.block))
    for stage in STAGES:
        for question, name in found:
            if name.partition("/")[0] == stage:
                yield question, name, book.blocks[name]


def _about(book: PatternBook, settled: Settled) -> str:
    told = [choice.title for question, choice in settled.chosen(book) if book.questions[question].told]
    return f"{settled.kind.says.split('. ')[0].rstrip('.')}: {'; '.join(told)}."[:400]


def _header(settled: Settled, figures: Mapping[str, Figure], sheet_id: str, title: str, about: str) -> dict[str, Any]:
    return {
        "format": "iron-probe-sheet/1", "id": sheet_id or settled.kind_name, "title": (title or settled.kind.title)[:60], "about": about,
        "system_v": int(float(figures["volts"])),
        "engine": {
            "fuel": figures["fuel"], "cylinders": int(float(figures["cylinders"])), "strokes": int(float(figures["strokes"])),
            "crank_rpm": figures["crank_rpm"],
        },
        "minus": "bat.minus", "plus": "bat.plus",
    }  # fmt: skip
