"""What the pages of a machine show: its circuit drawn, its versions and jobs, and which screens the circuit supports."""

import difflib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import islice, takewhile
from uuid import UUID

from markupsafe import Markup
from sqlmodel import Session
from starlette.datastructures import FormData

from iron_probe.core.circuit.battery import CHEMISTRIES
from iron_probe.core.circuit.elements import Element
from iron_probe.core.circuit.fuse_boxes import Box, boxes_of
from iron_probe.core.circuit.network import SheetKey
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.feed_map import FeedMap
from iron_probe.core.draw.spark import spark
from iron_probe.core.errors import Mistake, SheetError
from iron_probe.core.job.history import Figure, Measure, Since
from iron_probe.core.job.step import Due
from iron_probe.core.whole_sheet import read_whole_sheet
from iron_probe.store import queries
from iron_probe.store.doubles import merged_into
from iron_probe.store.tables import JobRow, JobSummary, MachineRow, Photo, SheetVersion
from iron_probe.web.bench.drawing import Folding, ink_of, map_of
from iron_probe.web.page import field
from iron_probe.web.screen import Screen
from iron_probe.work.history import held_against, proving_jobs, summary_kept
from iron_probe.work.machines import LONGEST_NOTES, NewMachine
from iron_probe.work.photos import photos_by_itself, photos_of_machine
from iron_probe.work.sheets import sheet_of

LONGEST_NAME, LONGEST_KIND, LONGEST_PLATE = 80, 60, 60
MOST_SOURCE = 12
"""Lines of a sheet's head that are shown as its source."""


@dataclass(frozen=True, slots=True, kw_only=True)
class MachinePage:
    """A machine as its page shows it, on the version `shown`."""

    machine: MachineRow
    versions: Sequence[SheetVersion]
    shown: SheetVersion
    sheet: Sheet
    drawing: FeedMap
    ink: Markup
    boxes: tuple[Box, ...]
    jobs: Sequence[JobRow]
    not_offered: tuple[tuple[str, str], ...]
    assumed: tuple[Element, ...]
    trends: tuple["Trend", ...]
    proven: dict[UUID, tuple[int, ...]]
    source: tuple[str, ...]
    waits: tuple[tuple[int, Due], ...]
    photos: Sequence[tuple[int, Photo]]
    own_photos: Sequence[Photo]
    others: Sequence[MachineRow]
    doubles: Sequence[MachineRow]


@dataclass(frozen=True, slots=True, kw_only=True)
class Trend:
    """A measure over a machine's jobs, oldest first: each job's number with its figure, the line of them, and how the newest stands to the
    one before (None where there is but one)."""

    measure: Measure
    figures: tuple[tuple[int, Figure], ...]
    line: tuple[tuple[float, float], ...]
    since: Since | None


def trends(rows: Sequence[JobSummary], system_v: float) -> tuple[Trend, ...]:
    """The measures of a machine's jobs; `rows` newest first."""
    read = [(k, row.number, f) for k, row in enumerate(rows) for f in summary_kept(row).figures]
    found = []
    for measure in Measure:
        mine = [(k, job, f) for k, job, f in read if f.measure is measure]
        if mine:
            newest, _, figure = mine[0]
            since = held_against((figure,), rows[newest + 1 :], system_v)
            line = spark([f.value for _, _, f in reversed(mine)])
            figures = tuple((job, f) for _, job, f in reversed(mine))
            found.append(Trend(measure=measure, figures=figures, line=line, since=since[0] if since else None))
    return tuple(found)


def _source(text: str) -> tuple[str, ...]:
    """What the first version's own head says of where it comes from."""
    head = takewhile(lambda line: line.startswith("#"), text.splitlines())
    return tuple(line.lstrip("# ")[:200] for line in islice(head, MOST_SOURCE))


def _waits(rows: Sequence[JobSummary]) -> tuple[tuple[int, Due], ...]:
    """What the jobs in hand wait for, soonest first, each with its job's number."""
    in_hand = [(row.number, due) for row in rows if not row.closed for due in summary_kept(row).waits]
    return tuple(sorted(in_hand, key=lambda w: w[1].until))


def machine_page(session: Session, machine: MachineRow, screens: Sequence[Screen], version: int = 0) -> MachinePage:
    """Gather a machine's page; the newest version where none is named."""
    versions = queries.versions_of(session, machine.id)
    shown = queries.version_or_newest(session, machine.id, version)
    sheet = sheet_of(session, shown.content_hash)
    whole = Folding(SheetKey(sheet))
    rows = queries.summaries_of(session, machine.id)
    met = {e for row in rows for e in summary_kept(row).confirmed}
    refused = tuple((s.title, why) for s in screens if (why := s.refuses(sheet)))
    return MachinePage(
        machine=machine, versions=versions, shown=shown, sheet=sheet, drawing=map_of(whole), ink=ink_of(whole, next(iter(sheet.states))), boxes=boxes_of(sheet),
        jobs=queries.jobs_of(session, machine.id), not_offered=refused,
        assumed=tuple(e for e in sheet.elements if e.assumed and e.id not in met), trends=trends(rows, sheet.system_v),
        proven=proving_jobs(session, machine.id), source=_source(versions[-1].text), waits=_waits(rows),
        photos=photos_of_machine(session, machine.id), own_photos=photos_by_itself(session, machine), others=[m for m in queries.machines(session) if m.id != machine.id],
        doubles=merged_into(session, machine.id),
    )  # fmt: skip


def checked(text: str) -> tuple[Sheet | None, list[Mistake]]:
    """A sheet's text read whole: the sheet, or everything that is wrong with it."""
    try:
        return read_whole_sheet(text), []
    except SheetError as error:
        return None, error.mistakes


@dataclass(frozen=True, slots=True)
class DiffLine:
    """A line of a difference: what became of it (added, gone, same, place) and its text."""

    what: str
    text: str


def difference(before: str, after: str) -> list[DiffLine]:
    """What changed from one text to the other, with two lines around each change."""
    words = {"+": "added", "-": "gone", "@": "place"}
    lines = difflib.unified_diff(before.splitlines(), after.splitlines(), n=2, lineterm="")
    return [
        DiffLine(words.get(line[:1], "same"), line if line.startswith("@") else line[1:])
        for line in lines
        if not line.startswith(("+++", "---"))
    ]


def read_machine(form: FormData, machine_id: UUID) -> tuple[NewMachine, dict[str, str]]:
    """What a form says of a machine, and a word for each field that cannot be taken."""
    wrong: dict[str, str] = {}

    def text(name: str, label: str, most: int) -> str:
        said = field(form, name)
        if len(said) > most:
            wrong[name] = f"{label}: {len(said):,} characters; at most {most} fit here. Shorten it; nothing was lost."
        return said

    name = text("name", "Name", LONGEST_NAME)
    if not name:
        wrong["name"] = "Give the machine a name or number you will know it by, such as “Bus 4”."
    battery, amiss = read_battery(form)
    wrong |= amiss
    made = NewMachine(
        id=machine_id, name=name, kind=text("kind", "Kind", LONGEST_KIND), plate=text("plate", "Plate, hull or serial number", LONGEST_PLATE),
        hours=_number(form, "hours", "Hours", 1e6, wrong), km=_number(form, "km", "Kilometres", 1e7, wrong), battery=battery,
        notes=text("notes", "Notes", LONGEST_NOTES),
    )  # fmt: skip
    return made, wrong


def read_battery(form: FormData) -> tuple[dict[str, object], dict[str, str]]:
    """The battery that is really fitted, as a form says it, and a word for each field that cannot be taken."""
    wrong: dict[str, str] = {}
    said: dict[str, object] = {
        "ah": _number(form, "battery_ah", "Battery Ah", 2000, wrong),
        "cca": _number(form, "battery_cca", "Battery CCA", 3000, wrong),
        "chemistry": field(form, "battery_chemistry"),
        "fitted_on": field(form, "battery_fitted")[:10],
    }
    if said["chemistry"] and said["chemistry"] not in CHEMISTRIES:
        wrong["battery_chemistry"] = f"Choose one of {', '.join(CHEMISTRIES)}, or leave it as the sheet says."
    if said["fitted_on"]:
        try:
            date.fromisoformat(str(said["fitted_on"]))
        except ValueError:
            wrong["battery_fitted"] = "Fitted on is a day, such as 2024-03-12; leave it empty where it is not known."
    return {k: v for k, v in said.items() if v}, wrong


def _number(form: FormData, name: str, label: str, most: float, wrong: dict[str, str]) -> float | None:
    """A number a field holds, None where it is empty; what cannot be taken gets its word in `wrong`."""
    said = field(form, name).replace(",", ".").replace(" ", "")
    if not said:
        return None
    try:
        value = float(said)
    except ValueError:
        value = -1.0
    if not 0 <= value <= most:
        wrong[name] = f"{label} is a number from 0 to {most:,.0f}, such as 1250; leave it empty where it is not known."
        return None
    return value
