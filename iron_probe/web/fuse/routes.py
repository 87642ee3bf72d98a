"""The blown fuse: what it feeds and when it blows, a capture with one clamp per branch, ohms to ground, legs by dead functions."""

from collections.abc import Iterable
from dataclasses import dataclass
from uuid import UUID

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse
from sqlmodel import Session

from iron_probe.core.bench.drain.feed_tree import FeedTree
from iron_probe.core.bench.fuse_trip.feeds import STAND_INS, Feeds, find_fuse
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.elements import Fuse
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.trip_lanes import Lane, lanes
from iron_probe.core.errors import CaptureError, IronProbeError, ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import TestLine
from iron_probe.store import captures
from iron_probe.web.captures.routes import TRIP_SAMPLES
from iron_probe.web.entry import NOTHING, Entered
from iron_probe.web.language import N_
from iron_probe.web.page import CurrentJob, Db, Form, entry_id, field, not_offered, templates
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.work.drain_work import tree_of
from iron_probe.work.fuse_work import CLAMP_ROUND, Blowing, FuseWork, blowing_of, fuse_work
from iron_probe.work.logs import append, job_log

router = APIRouter()


def no_fuse(sheet: Sheet) -> str:
    """Why a sheet has no fuse to blow."""
    return "" if any(isinstance(e, Fuse) for e in sheet.elements) else "there is no fuse on this circuit."


SCREEN = Screen(name="fuse", path="/fuse", title=N_("Blown fuse"), refuses=no_fuse)


@dataclass(frozen=True, slots=True, kw_only=True)
class FusePage:
    """The whole context: the work on the fuse, its capture drawn, and what could not be taken."""

    job: Job
    work: FuseWork
    drawn: tuple[Lane, ...]
    entered: Entered = NOTHING


def fuse_page(db: Session, job: Job, log: JobLog, fuse: str, entered: Entered = NOTHING) -> FusePage:
    """Gather the page of a fuse; without one named, of the fuse last worked on, else the first."""
    work = fuse_work(db, job, log, fuse)
    blowing = work.blowing
    if blowing is not None and blowing.wrong and not entered.wrong:
        entered = Entered(at="capture", wrong=blowing.wrong)
    drawn = lanes(blowing.columns) if blowing is not None and blowing.columns else ()
    return FusePage(job=job, work=work, drawn=drawn, entered=entered)


def _shown(request: Request, page: FusePage, status: int = 200) -> Response:
    context = {"page": page, "stand_ins": STAND_INS, "samples": TRIP_SAMPLES, "clamp_round": CLAMP_ROUND, "sheet": page.work.tree.sheet}
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
        asked = find_fuse(tree, fuse)[1]
        typed = _typed(form, tree, test)
        if test == "capture":
            row = captures.find_capture(db, job, UUID(typed["capture"])) if typed["capture"] else None
            if row is None or row.status != "ready":
                raise CaptureError("Choose a capture that was read: bring one in first.")
            blowing = blowing_of(db, row, asked)
            if blowing.wrong:
                raise CaptureError(blowing.wrong)
            typed |= _clamps(form, blowing, fuse_work(db, job, log, fuse).feeds)
    except (IronProbeError, ValueError) as error:
        told = error if isinstance(error, IronProbeError) else CaptureError("Choose a capture from the list.")
        known = fuse if any(f.id == fuse for _, f in tree.fuses()) else ""
        return _shown(request, fuse_page(db, job, log, known, Entered.refused(form, told, test)), 422)
    append(db, job, whoever(), TestLine(screen="trip", subject=fuse, test=test, typed=typed), entry_id=entry_id(form))
    return RedirectResponse(f"/jobs/{job.number}/fuse?fuse={fuse}#{test}", status_code=303)


def _clamps(form: Form, blowing: Blowing, feeds: Feeds) -> dict[str, str]:
    """Round which branch behind the fuse each clamp was, where it is said; ReadingError for one that is not behind it."""
    known = {b.branch for b in feeds.behind}
    said = {CLAMP_ROUND + name: field(form, CLAMP_ROUND + name) for name, unit, _ in blowing.columns if unit == "A"}
    if strange := [branch for branch in said.values() if branch and branch not in known]:
        raise ReadingError(f"“{strange[0][:40]}” is not behind this fuse. Choose from the list what the clamp was round.")
    return {name: branch for name, branch in said.items() if branch}


def _typed(form: Form, tree: FeedTree, test: str) -> dict[str, str]:
    """What a form of the page holds; ReadingError with what is wrong."""
    if test == "seen":
        functions = dict.fromkeys(c.element for c in tree.consumers)
        return _chosen(form, "state", tree.sheet.states, ("blows", "holds")) | _chosen(form, "does", functions, ("dead", "working"))
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


def _chosen(form: Form, name: str, known: Iterable[str], words: tuple[str, str]) -> dict[str, str]:
    """What one choice each says of states or functions, gathered by its two words; ReadingError for another word."""
    said = {each: field(form, f"{name} {each}") for each in known}
    if strange := [word for word in said.values() if word and word not in words]:
        raise ReadingError(f"“{strange[0][:20]}” is neither {words[0]} nor {words[1]}: choose one of the two, or neither.")
    return {word: ",".join(each for each, w in said.items() if w == word) for word in words}
