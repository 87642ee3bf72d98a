"""Fuse boxes as they lie in the machine, and what a technician corrects in them."""

from collections.abc import Sequence
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from iron_probe.core.circuit.elements import Element, Fuse, Relay
from iron_probe.core.circuit.fuses import FuseKind
from iron_probe.core.circuit.sheet import Point, Sheet
from iron_probe.core.errors import ReadingError

IN_LINE = "in line"
"""Where fuses sit that no box holds."""
ACROSS = 4
"""Slots in a row of a box whose places are not given."""


class FuseEdit(BaseModel):
    """A correction of one slot: the fuse named `id` (new when the sheet has none of that id), what it is, where it lies, what it feeds.

    A new one needs the point it is fed from, `fed_from`.
    """

    model_config = ConfigDict(extra="forbid", frozen=True)

    id: Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9.\-]*$", max_length=40)]
    title: Annotated[str, Field(min_length=1, max_length=60)]
    rating_a: Annotated[float, Field(gt=0, le=600)]
    kind: FuseKind = "regular"
    box: Annotated[str, Field(max_length=30)] = ""
    slot: Annotated[str, Field(max_length=8)] = ""
    row: Annotated[int, Field(ge=1, le=30)] = 1
    column: Annotated[int, Field(ge=1, le=12)] = 1
    feeds: Annotated[str, Field(max_length=200)] = ""
    fed_from: str = ""


class Slot(BaseModel):
    """One place of a box: row and column from 1, the fuse there (or a relay, to find one's way by)."""

    model_config = ConfigDict(frozen=True)

    row: int
    column: int
    element: Fuse | Relay
    feeds: str = ""


class Box(BaseModel):
    """A box with its slots, in reading order."""

    model_config = ConfigDict(frozen=True)

    name: str
    rows: int
    columns: int
    slots: tuple[Slot, ...]

    @property
    def fuses(self) -> tuple[Slot, ...]:
        """The slots that hold a fuse."""
        return tuple(s for s in self.slots if isinstance(s.element, Fuse))


def edited(sheet: Sheet, edits: Sequence[FuseEdit]) -> Sheet:
    """The sheet with its fuses as corrected; ReadingError when a new fuse is fed from a point the sheet does not have."""
    if not edits:
        return sheet
    by_id = {e.id: e for e in edits}
    elements: list[Element] = []
    for element in sheet.elements:
        edit = by_id.pop(element.id, None)
        if edit is not None and isinstance(element, Fuse):
            change = {
                "title": edit.title, "rating_a": edit.rating_a, "kind": edit.kind, "box": edit.box or None, "slot": edit.slot or None,
                "place": (edit.row, edit.column),
            }  # fmt: skip
            elements.append(element.model_copy(update=change | ({"r_mohm": None} if edit.rating_a != element.rating_a else {})))
        else:
            elements.append(element)
    points = dict(sheet.points)
    for edit in by_id.values():
        if edit.fed_from not in points:
            raise ReadingError(f"The new fuse {edit.title} needs the point it is fed from; “{edit.fed_from[:40]}” is none of this sheet.")
        point = f"{edit.id}.out"
        points[point] = Point(title=f"{edit.title} output", minutes=points[edit.fed_from].minutes)
        fuse = {
            "id": edit.id, "type": "fuse", "title": edit.title, "from": edit.fed_from, "to": point, "rating_a": edit.rating_a,
            "kind": edit.kind, "box": edit.box or None, "slot": edit.slot or None, "place": (edit.row, edit.column),
        }  # fmt: skip
        elements.append(Fuse.model_validate(fuse))
    return sheet.changed(elements=elements, points=points)


def boxes_of(sheet: Sheet, edits: Sequence[FuseEdit] = ()) -> tuple[Box, ...]:
    """The boxes of a sheet, each slot at its place; those without one fill rows of ACROSS in the sheet's order."""
    feeds = {e.id: e.feeds for e in edits}
    names: dict[str, list[Fuse | Relay]] = {}
    for element in sheet.elements:
        if isinstance(element, Fuse) or (isinstance(element, Relay) and element.box):
            names.setdefault(element.box or IN_LINE, []).append(element)
    found = []
    for name, elements in names.items():
        if not any(isinstance(e, Fuse) for e in elements):
            continue
        taken = {e.place for e in elements if e.place}
        free = ((r, c) for r in range(1, 60) for c in range(1, ACROSS + 1) if (r, c) not in taken)
        placed = [(e.place or next(free), e) for e in elements]
        slots = tuple(
            Slot(row=r, column=c, element=e, feeds=feeds.get(e.id, "")) for (r, c), e in sorted(placed, key=lambda at: (at[0], at[1].id))
        )
        found.append(Box(name=name, rows=max(s.row for s in slots), columns=max(s.column for s in slots), slots=slots))
    return tuple(sorted(found, key=lambda b: b.name == IN_LINE))
