"""The blown fuse: what it feeds and when it blows, a capture with one clamp per branch, ohms to ground, legs by dead functions."""

from dataclasses import dataclass
from uuid import UUID

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse
from sqlmodel import Session

from iron_probe.core.bench.drain.feed_tree import FeedTree
from iron_probe.core.bench.fuse_trip.capture import Trip, read_trip
from iron_probe.core.bench.fuse_trip.feeds import STAND_INS, Feeds, Leg, feeds_of, find_fuse, judge_ohms_to_ground, legs_of
from iron_probe.core.bench.fuse_trip.time_current import Multiples, multiples_for
from iron_probe.core.bench.judged import Judged
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.elements import Conditions, Fuse
from iron_probe.core.circuit.network import build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.trip_lanes import Lane, lanes
from iron_probe.core.errors import CaptureError, IronProbeError, ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import TECHNICIAN, Job
from iron_probe.core.job.lines import TestLine
from iron_probe.core.trace.layout import Layout, Role
from iron_probe.store import captures
from iron_probe.store.tables import Capture
from iron_probe.web.captures.routes import TRIP_SAMPLES
from iron_probe.web.page import CurrentJob, Db, Form, entry_id, field, not_offered, templates
from iron_probe.web.screen import Screen
from iron_probe.work.drain_work import tree_of
from iron_probe.work.logs import append, job_log

router = APIRouter()


def no_fuse(sheet: Sheet) -> str:
    """Why a sheet has no fuse to blow."""
    return "" if any(isinstance(e, Fuse) for e in sheet.elements) else "there is no fuse on this circuit."


SCREEN = Screen(name="fuse", path="/fuse", title="Blown fuse", refuses=no_fuse)


@dataclass(frozen=True, slots=True, kw_only=True)
class FusePage:
    """The whole context: the fuse, what was said of it, what follows, the capture read, and what could not be taken."""

    job: Job
    tree: FeedTree
    feeds: Feeds
    said: dict[str, list[str]]
    ohms: tuple[tuple[str, Judged], ...]
    times: Multiples | None
    legs: tuple[Leg, ...]
    capture: Capture | None
    trip: Trip | None
    drawn: tuple[Lane, ...]
    rows: tuple[Capture, ...]
    wrong: str
    wrong_at: str
    typed: str

    @property
    def others(self) -> tuple[str, ...]:
        """Consumers that are not behind this fuse."""
        mine = {e for e, _ in self.feeds.consumers}
        listed = (c.element for c in self.tree.consumers if c.listed)
        return tuple(e for e in dict.fromkeys(listed) if e not in mine)


def _kept(log: JobLog, fuse: str, test: str) -> list[dict[str, str]]:
    return [line.typed for k, line in log.tests("trip") if k.epoch == log.epoch and line.test == test and line.subject == fuse]


def fuse_page(db: Session, job: Job, log: JobLog, fuse: str, wrong: str = "", wrong_at: str = "", typed: str = "") -> FusePage:
    """Gather the page of a fuse; without one named, of the fuse last worked on, else the first."""
    sheet, tree = tree_of(job)
    if not tree.fuses():
        raise ReadingError(f"{sheet.title} has no fuse on its sheet")
    known = [f.id for _, f in tree.fuses()]
    last = next((line.subject for _, line in reversed(log.tests("trip")) if line.subject in known), known[0])
    chosen = find_fuse(tree, fuse or last)[1].id
    seen = (_kept(log, chosen, "seen") or [{}])[-1]
    said = {k: [s for s in seen.get(k, "").split(",") if s] for k in ("blows", "holds", "dead", "working")}
    network = build_network(sheet, Conditions(temp_degc=job.temp_degc))
    feeds = feeds_of(
        tree, network, chosen, [s for s in said["blows"] if s in sheet.states], [s for s in said["holds"] if s in sheet.states]
    )
    ohms = tuple(
        (t["ohms"], judge_ohms_to_ground(tree, chosen, parse_quantity(t["ohms"], "Ω").value, bool(t.get("unplugged"))))
        for t in _kept(log, chosen, "ohms")
    )
    timed = _kept(log, chosen, "time")
    rows = tuple(r for r in captures.captures_of(db, job) if r.status == "ready")
    row = next((r for t in reversed(_kept(log, chosen, "capture")) for r in rows if str(r.id) == t["capture"]), None)
    trip: Trip | None = None
    drawn: tuple[Lane, ...] = ()
    if row is not None:
        try:
            trip, drawn = read_capture(db, row, feeds.fuse.rating_a)
        except IronProbeError as error:
            wrong, wrong_at = wrong or str(error), wrong_at or "capture"
    return FusePage(
        job=job, tree=tree, feeds=feeds, said=said, ohms=ohms, times=multiples_for(float(timed[-1]["seconds"])) if timed else None,
        legs=tuple(legs_of(tree, said["dead"], said["working"])) if said["dead"] else (), capture=row, trip=trip, drawn=drawn,
        rows=rows, wrong=wrong, wrong_at=wrong_at, typed=typed,
    )  # fmt: skip


def read_capture(db: Session, row: Capture, rating_a: float) -> tuple[Trip, tuple[Lane, ...]]:
    """Read a capture as a fuse blowing: its volts column is behind the fuse, each amps column a branch."""
    layout = Layout.model_validate(row.layout)
    data = captures.samples_of(db, row)
    named = list(zip(layout.channels, data, strict=True))
    volts = next((d for c, d in named if c.role is Role.VOLTS), None)
    if volts is None:
        raise CaptureError("No column is volts: put the voltage lead behind the fuse, and name its column volts.")
    branches = {c.name: d for c, d in named if c.role is Role.AMPS}
    trip = read_trip(volts, branches, row.facts["step_s"], rating_a)
    drawn = lanes([("volts behind the fuse", "V", volts), *((name, "A", d) for name, d in branches.items())])
    return trip, drawn


def _shown(request: Request, page: FusePage, status: int = 200) -> Response:
    context = {"page": page, "stand_ins": STAND_INS, "samples": TRIP_SAMPLES, "sheet": page.tree.sheet}
    return templates.TemplateResponse(request, "fuse/fuse.html", context, status_code=status)


@router.get("/jobs/{number}/fuse")
def blown(request: Request, job: CurrentJob, db: Db, fuse: str = "") -> Response:
    """The page of one fuse."""
    if refused := not_offered(request, job, SCREEN):
        return refused
    return _shown(request, fuse_page(db, job, job_log(db, job), fuse))


@router.post("/jobs/{number}/fuse")
def log_fuse(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """What was seen of a fuse: when it blows and holds, what is dead, a time, ohms to ground, or the capture to read."""
    log = job_log(db, job)
    tree = tree_of(job)[1]
    fuse, test = field(form, "fuse"), field(form, "test")
    try:
        rating_a = find_fuse(tree, fuse)[1].rating_a
        typed = _typed(form, tree, test)
        if test == "capture":
            row = captures.find_capture(db, job, UUID(typed["capture"])) if typed["capture"] else None
            if row is None or row.status != "ready":
                raise CaptureError("Choose a capture that was read: bring one in first.")
            read_capture(db, row, rating_a)
    except (IronProbeError, ValueError) as error:
        told = str(error) if isinstance(error, IronProbeError) else "Choose a capture from the list."
        known = fuse if any(f.id == fuse for _, f in tree.fuses()) else ""
        return _shown(request, fuse_page(db, job, log, known, told, test, field(form, "ohms") or field(form, "seconds")), 422)
    append(db, job, TECHNICIAN, TestLine(screen="trip", subject=fuse, test=test, typed=typed), entry_id=entry_id(form))
    return RedirectResponse(f"/jobs/{job.number}/fuse?fuse={fuse}#{test}", status_code=303)


def _typed(form: Form, tree: FeedTree, test: str) -> dict[str, str]:
    """What a form of the page holds; ReadingError with what is wrong."""
    if test == "seen":
        states, functions = set(tree.sheet.states), {c.element for c in tree.consumers}
        known = {"blows": states, "holds": states, "dead": functions, "working": functions}
        said = {k: [v for v in form.getlist(k) if isinstance(v, str) and v in known[k]] for k in known}
        both = set(said["blows"]) & set(said["holds"]) or set(said["dead"]) & set(said["working"])
        if both:
            raise ReadingError("It cannot both blow and hold, or be dead and work, in the same place: untick one of the two.")
        return {k: ",".join(v) for k, v in said.items()}
    if test == "ohms":
        ohms = " ".join(field(form, "ohms").split())
        parse_quantity(ohms, "Ω")
        return {"ohms": ohms, "unplugged": field(form, "unplugged")[:1]}
    if test == "time":
        try:
            seconds = float(field(form, "seconds").replace(",", ".").removesuffix("s"))
        except ValueError:
            seconds = 0.0
        if not 0 < seconds <= 100_000:
            raise ReadingError("Type the seconds from switching on until it blew, such as 0.2; under 0.1 when it was at once.")
        return {"seconds": f"{seconds:g}"}
    if test == "capture":
        return {"capture": field(form, "capture")}
    raise ReadingError(f"“{test[:20]}” is nothing this page keeps.")
