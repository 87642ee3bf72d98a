"""A machine's map and boxes as a plate for the wall: a PDF of A3 sheets, set without anything from outside."""

from dataclasses import replace
from math import ceil

from iron_probe.core.circuit.fuse_boxes import boxes_of
from iron_probe.core.circuit.network import SheetKey
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.feed_map import FeedMap
from iron_probe.store.tables import MachineRow, SheetVersion
from iron_probe.web.bench.drawing import Folding, drawn, map_of
from iron_probe.web.page import templates
from iron_probe.work.pdf import fonts, pdf_of

TITLE_PX = 160.0
"""How far a title may reach from what it names."""
STRIP_PX, OVERLAP_PX = 2000.0, 80.0
"""Of the map on one strip of the plate, so that its titles can be read from A3, and how much of the strip before it shows again."""


def strips(width: float) -> tuple[tuple[float, float], ...]:
    """The map cut into strips of one width: where each begins, and how wide it is."""
    count = max(ceil((width - OVERLAP_PX) / (STRIP_PX - OVERLAP_PX)), 1)
    wide = (width + (count - 1) * OVERLAP_PX) / count
    return tuple((k * (wide - OVERLAP_PX), wide) for k in range(count))


def piece(drawing: FeedMap, left: float, right: float) -> FeedMap:
    """What of a map shows between two places across it."""
    from_x, to_x = left - TITLE_PX, right + TITLE_PX
    return replace(
        drawing,
        branches=tuple(b for b in drawing.branches if min(x for x, _ in b.line) < to_x and max(x for x, _ in b.line) > from_x),
        points=tuple(p for p in drawing.points if from_x < p.x < to_x),
        boxes=tuple(b for b in drawing.boxes if b.left < to_x and b.right > from_x),
    )


def wall_plate(machine: MachineRow, version: SheetVersion, sheet: Sheet) -> bytes:
    """The plate as PDF."""
    drawing = map_of(Folding(SheetKey(sheet)))
    pieces = [(left, wide, piece(drawing, left, left + wide)) for left, wide in strips(drawing.width)]
    text = templates.get_template("machines/wall_plate.html").render(
        machine=machine, version=version, sheet=sheet, boxes=boxes_of(sheet), fonts=fonts(),
        strips=[(left, wide, part, drawn(part, sheet, next(iter(sheet.states)))) for left, wide, part in pieces],
    )  # fmt: skip
    return pdf_of(text)
