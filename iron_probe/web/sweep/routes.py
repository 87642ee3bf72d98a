"""Fuse sweep: the boxes as they lie in the machine, walked slot by slot; branches to clamp, plugs to part, and boxes corrected in place."""

from dataclasses import dataclass
from typing import Any

from fastapi import APIRouter, Request, Response
from pydantic import ValidationError

from iron_probe.core.bench.drain.amps_read import hidden_a
from iron_probe.core.bench.drain.currents import TOTAL, Way
from iron_probe.core.bench.drain.feed_tree import Stretch as FeedStretch
from iron_probe.core.bench.drain.suspects import Method, title_of
from iron_probe.core.bench.plausible import doubt_of_sleep
from iron_probe.core.bench.typed_value import parse_bare
from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.fuse_boxes import Box, FuseEdit, Slot, boxes_of, edited
from iron_probe.core.circuit.fuses import KINDS
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.feed_branches import FeedDrawn, draw_feed
from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import DrainLine
from iron_probe.store.tables import JobRow
from iron_probe.web import words
from iron_probe.web.entry import NOTHING, Entered, ask_first, by_meter, corrected, correcting_drain, read_at
from iron_probe.web.page import CurrentJob, Db, Form, back_to, entry_id, field, not_offered, templates
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.work.drain_work import DrainEntry, DrainWork, check_place, drain_work, interval_of, tree_of
from iron_probe.work.guide_work import guide_of
from iron_probe.work.instrument import drain_log
from iron_probe.work.jobs import change_job
from iron_probe.work.logs import append

router = APIRouter()


def no_boxes(sheet: Sheet) -> str:
    """Why a sheet has nothing to sweep."""
    return "" if boxes_of(sheet) else "there is no fuse to read across: clamp its cables on the drain watch."


SWEEP = Screen(name="drain", path="/drain/sweep", title="Fuse sweep", refuses=no_boxes)


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """Something behind the chosen fuse that parts: a plug or a consumer, with its newest reading and its share of the excess."""

    where: str
    title: str
    usual_a: float
    awake_a: float
    share: float
    plug: bool
    entry: DrainEntry | None


@dataclass(frozen=True, slots=True, kw_only=True)
class SweepPage:
    """The whole context of the sweep: the box shown, the slot chosen, the child box its fuse feeds, what parts behind it."""

    work: DrainWork
    box: Box
    chosen: Slot | None
    following: str
    child: Box | None
    parts: tuple[Part, ...]
    cables: tuple[FeedStretch, ...]
    hidden_a: float
    drawn: FeedDrawn
    editing: bool
    entered: Entered = NOTHING

    @property
    def fields(self) -> tuple[str, ...]:
        """Fields of the page that say by themselves what is wrong in them."""
        fuse = (self.chosen.element.id,) if self.chosen else ()
        return (*fuse, *(p.where for p in self.parts), *(s.branch for s in self.cables), "edit", "total")

    @property
    def here(self) -> str:
        """The address of the slot chosen, to come back to."""
        slot = f"&at={self.chosen.element.id}" if self.chosen else ""
        return f"/drain/sweep?box={self.box.name}{slot}"


def sweep_page(job: Job, log: JobLog, box: str = "", at: str = "", editing: bool = False, entered: Entered = NOTHING) -> SweepPage:
    """Gather the page; the first box and its first fuse not read yet where none is named. ReadingError on a sheet without fuses."""
    work = drain_work(job, log)
    if not work.boxes:
        raise ReadingError(f"{work.sheet.title} has no fuse on its sheet: clamp its cables on the drain watch.")
    at = _slot_over(work, at or ("" if box else _step_place(job, log)))
    holder = next((b for b in work.boxes if any(s.element.id == at for s in b.slots)), None)
    shown = holder or next((b for b in work.boxes if b.name == box), work.boxes[0])
    fuses = shown.fuses
    fresh = next((s for s in fuses if _open(work, s)), None)
    chosen = next((s for s in fuses if s.element.id == at), fresh or (fuses[0] if fuses else None))
    place = fuses.index(chosen) if chosen in fuses else 0
    later = [s for s in (*fuses[place + 1 :], *fuses[:place]) if _open(work, s)]
    fuse = chosen.element if chosen else None
    parts = tuple(_parts(work, fuse.id)) if isinstance(fuse, Fuse) else ()
    hides = hidden_a(work.settings.meter_step_v, fuse.rating_a, fuse.make, job.temp_degc) if isinstance(fuse, Fuse) else 0.0
    return SweepPage(
        work=work, box=shown, chosen=chosen, following=later[0].element.id if later else fuse.id if fuse else "",
        child=_child(work, fuse.id, shown) if fuse else None, parts=parts,
        cables=tuple(s for s in work.tree.stretches if work.tree.element(s.branch).type == "cable" and work.tree.behind[s.branch]),
        hidden_a=hides, drawn=draw_feed(work.tree, work.currents, frozenset(t.where for t in work.taken), work.limit.limit_a), editing=editing, entered=entered,
    )  # fmt: skip


def _step_place(job: Job, log: JobLog) -> str:
    """Where the guide's probe is made; nowhere where it asks for none, or nobody is guided."""
    probe = None if job.alone else guide_of(job, log).step.probe
    return probe.where if probe else ""


def _slot_over(work: DrainWork, where: str) -> str:
    """The slot of the nearest fuse before a place, or at it; the place itself where none is."""
    slots = {s.element.id for b in work.boxes for s in b.fuses}
    if where in slots or not where:
        return where
    try:
        inside = work.tree.members(where)
    except StopIteration:  # an address that names no place of this machine
        return where
    over = [s.branch for s, _ in work.tree.fuses() if s.branch in slots and inside <= work.tree.behind[s.branch]]
    return min(over, key=lambda b: len(work.tree.behind[b]), default=where)


def _open(work: DrainWork, slot: Slot) -> bool:
    """Whether a fuse is still to be read: never read, or its reading tells nothing."""
    newest = work.newest(slot.element.id)
    return newest is None or not newest.valid


def _child(work: DrainWork, fuse_id: str, here: Box) -> Box | None:
    """The box whose fuses all hang behind this one, and are fed by it first."""
    members = work.tree.behind.get(fuse_id, frozenset())
    for box in work.boxes:
        inner = [work.tree.behind.get(s.element.id) for s in box.fuses]
        if box is not here and inner and all(i is not None and i <= members for i in inner):
            return box
    return None


def _parts(work: DrainWork, fuse_id: str) -> list[Part]:
    tree = work.tree
    members = tree.behind.get(fuse_id, frozenset())
    fuses = [tree.behind[s.branch] for s, _ in tree.fuses() if tree.behind[s.branch] < members]
    own = members - frozenset().union(*fuses)
    share = work.finding.share

    def part(where: str, inside: frozenset[int], plug: bool) -> Part:
        known = [tree.consumers[k] for k in inside if tree.consumers[k].listed]
        usual, awake = sum(c.usual_a for c in known), sum(c.awake_a for c in known)
        return Part(
            where=where, title=title_of(tree, where), usual_a=usual, awake_a=awake, share=sum(share[k] for k in inside), plug=plug,
            entry=work.newest(where),
        )  # fmt: skip

    plugs = [
        part(s.branch, tree.behind[s.branch], True) for s in tree.plugs() if tree.behind[s.branch] and tree.behind[s.branch] <= members
    ]
    names = [tree.consumers[k].branch for k in sorted(own) if tree.consumers[k].listed]
    return [*plugs, *(part(n, frozenset({tree.consumer_at(n)}), False) for n in names)]


def _shown(request: Request, page: SweepPage, status: int = 200) -> Response:
    context = {"page": page, "kinds": KINDS, "way": Way, "total": TOTAL, "pull": Method.PULL}
    return templates.TemplateResponse(request, "sweep/sweep.html", context, status_code=status)


@router.get("/jobs/{number}/drain/sweep")
def sweep(request: Request, job: CurrentJob, db: Db, box: str = "", at: str = "", edit: str = "", corrects: str = "") -> Response:
    """The sweep at a box and slot, a reading of it to be corrected; `edit` opens the slot to be corrected."""
    if refused := not_offered(request, job, SWEEP):
        return refused
    log = drain_log(db, job)
    return _shown(request, sweep_page(job, log, box, at, bool(edit), correcting_drain(log, corrects)))


@router.post("/jobs/{number}/drain/readings")
def log_reading(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """A current at a place of the sweep: millivolts across a fuse, a clamp, or the total after a fuse was pulled or a plug parted."""
    log = drain_log(db, job)
    where, back = field(form, "where"), field(form, "back")
    try:
        append(db, job, whoever(), read_line(job, log, form), entry_id=entry_id(form))
    except IronProbeError as error:
        return _shown(request, sweep_page(job, drain_log(db, job), at=where, entered=Entered.refused(form, error, where)), 422)
    return back_to(job, back or "/drain/sweep")


def read_line(job: Job, log: JobLog, form: Form) -> DrainLine:
    """The line a sweep form holds; ReadingError says what is wrong with it."""
    work = drain_work(job, log)
    where, typed = field(form, "where"), field(form, "value")
    check_place(work.tree, where)
    if field(form, "way") not in set(Way):
        raise ReadingError("Say how it was read: fuse drop, clamp, fuse pulled, plug parted or series meter.")
    way = Way(field(form, "way"))
    taken: dict[str, Any] = {"read_at": read_at(form), "corrects": corrected(form, log), "meter": by_meter(form)}
    if way is Way.DROP:
        quantity = parse_bare(typed, "mV", "V")
        line = DrainLine(where=where, way=way, typed=typed, value=abs(quantity.value), resolution=work.settings.meter_step_v, **taken)
    else:
        quantity = parse_bare(typed, "mA", "A")
        before = None
        if way in (Way.PULL, Way.PART):
            before = work.present.amps.best if work.present and work.present.amps else None
            if before is None:
                raise ReadingError("No total was read before: read the total first, then what it falls to.")
        line = DrainLine(
            where=where, way=way, typed=typed, value=abs(quantity.value), resolution=quantity.resolution, before_a=before, **taken
        )
        ask_first(form, doubt_of_sleep(quantity.value) if way is not Way.CLAMP else None, words.amps_finely(quantity.value))
    interval_of(line, tree_of(job)[1], job.temp_degc)
    return line


@router.post("/jobs/{number}/drain/boxes")
def correct(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """A slot corrected, added, or put back as the sheet has it."""
    element = field(form, "id")
    done = [element]

    def change(row: JobRow) -> None:
        kept = {e["id"]: FuseEdit.model_validate(e) for e in row.drain.get("boxes", [])}
        if field(form, "put_back"):
            kept.pop(element, None)
        else:
            edit = _edit(form, kept)
            kept[edit.id] = edit
            edited(job.sheet, tuple(kept.values()))
            done[0] = edit.id
        row.drain = {**row.drain, "boxes": [e.model_dump(mode="json") for e in kept.values()]}

    try:
        change_job(db, job, change)
    except IronProbeError as error:
        db.rollback()
        page = sweep_page(job, drain_log(db, job), field(form, "box"), element, True, Entered.refused(form, error, "edit"))
        return _shown(request, page, 422)
    return back_to(job, f"/drain/sweep?at={done[0]}")


def _edit(form: Form, kept: dict[str, FuseEdit]) -> FuseEdit:
    element = field(form, "id")
    if not element:
        element = f"added-{1 + sum(e.startswith('added-') for e in kept)}"
    said = {
        "id": element, "title": field(form, "title"), "rating_a": field(form, "rating_a").replace(",", ".").removesuffix("A").strip(),
        "kind": field(form, "kind") or "regular", "box": field(form, "box"), "slot": field(form, "slot"), "row": field(form, "row") or 1,
        "column": field(form, "column") or 1, "feeds": field(form, "feeds"), "fed_from": field(form, "fed_from"),
    }  # fmt: skip
    try:
        return FuseEdit.model_validate(said)
    except ValidationError as error:
        told = error.errors()[0]
        what = {"rating_a": "Rating", "title": "Name", "row": "Row", "column": "Column", "slot": "Slot", "box": "Box"}.get(
            str(told["loc"][0]), str(told["loc"][0])
        )
        raise ReadingError(f"{what}: {told['msg'].lower()}; a fuse has a name and a rating in A, such as 15.") from error
