"""The report: a page for the customer, and the technician's record; both set as PDF."""

from base64 import b64encode
from collections.abc import Sequence
from typing import Annotated, Any
from uuid import UUID

from fastapi import APIRouter, HTTPException, Query, Request, Response
from fastapi.responses import RedirectResponse
from sqlmodel import Session

from iron_probe.core.bench.fuse_trip.capture import BranchWord
from iron_probe.core.guide.route import Concern
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.store import queries
from iron_probe.store.own_yard import own_yard
from iron_probe.store.prints import print_of, prints_of
from iron_probe.store.tables import now
from iron_probe.web import words
from iron_probe.web.language import N_, _, worded
from iron_probe.web.page import CurrentJob, Db, Form, GuideShown, entry_id, guide_now, templates
from iron_probe.web.repair.routes import todo_list
from iron_probe.web.report.given import as_pdf
from iron_probe.web.report.page import ReportPage, cleared_by, ending_of, figures_of, finding_of, spared_of, watch_of
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.work.drain_work import DrainWork, drain_word, drain_work
from iron_probe.work.drop_work import board_of, work_of
from iron_probe.work.guide_work import scope_of
from iron_probe.work.instrument import drain_log
from iron_probe.work.pdf import fonts
from iron_probe.work.photos import find_photo, photos_of
from iron_probe.work.prints import ask_print, end_link
from iron_probe.work.told_tests import ToldTest, told_tests
from iron_probe.work.verdicts import first_word

router = APIRouter()
SCREEN = Screen(name="report", path="/report", title=N_("Report"))


REPORT_WAIT_S = 8.0
SHOWN = 500
"""Readings in the report before one asks for all."""


def tell(test: ToldTest) -> str:
    """A test of another screen in a sentence."""
    if test.judged is not None:
        j = test.judged
        return (f"{test.typed}, " if test.typed else "") + f"{words.JUDGED[j.verdict]}: {worded(j.text)} {_('Limit')}: {worded(j.limit)}."
    if test.blew is not None:
        return f"{test.typed}: {worded(test.blew.word)}"
    if test.trip is None:
        return test.words
    trip = test.trip
    ran = trip.branches[trip.runaway].title if trip.runaway is not None else _("no single branch")
    cleared = ", ".join(b.title.lower() for b in trip.branches if b.word is BranchWord.CLEARED)
    told = _("{part} ran away ({kind}), {times:.1f} times the rating for {seconds:.2g} s").format(
        part=ran, kind=trip.kind, times=trip.multiple, seconds=trip.surge_s
    )
    return f"{told}; {_('cleared')}: {cleared}." if cleared else f"{told}."


@router.get("/jobs/{number}/report")
def report(request: Request, job: CurrentJob, db: Db, whole: Annotated[bool, Query(alias="all")] = False) -> Response:
    """The report, made to print; the newest readings of a very long log unless `all` are asked for."""
    context = {**_context(request, db, job, whole=whole), **_printed(request, db, job)}
    return templates.TemplateResponse(request, "report/report.html", context)


def _printed(request: Request, db: Session, job: Job) -> dict[str, Any]:
    return {"job": job, "prints": prints_of(db, job.id), "links": request.app.state.links}


def _context(request: Request, db: Session, job: Job, *, whole: bool) -> dict[str, Any]:
    """What both pages of a report say."""
    log = drain_log(db, job)
    shown = guide_now(request)
    assert shown is not None
    drains = [(epoch, found) for epoch in range(log.epoch + 1) if (found := drain_work(job, log, epoch)).entries]
    page = report_page(db, job, log, shown, [d for _, d in drains], whole)
    return {
        "page": page, "job": job, "work": page.work, "tests": [(t, tell(t)) for t in told_tests(db, job, log)], "todos": todo_list(page.work),
        "photos": photos_of(db, job), "drains": drains, "drain_word": drain_word, "step": page.guide.step,
        "hands": queries.hands_of(db, job.id), "numbers": {r.id: r.number for r in log.readings},
        "mark": "/yard/mark.jpg" if own_yard(db).mark else "",
    }  # fmt: skip


@router.get("/jobs/{number}/report/prints")
def prints(request: Request, job: CurrentJob, db: Db) -> Response:
    """The prints of a job as they stand now, a part of the page."""
    return templates.TemplateResponse(request, "report/_prints.html", _printed(request, db, job))


@router.post("/jobs/{number}/report/prints")
def ask_for_print(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Have the report set as PDF as it stands now, by a worker."""
    context = _context(request, db, job, whole=True)
    pictures = [(p, b64encode(found.jpeg).decode()) for p in context["photos"] if (found := find_photo(db, job, p.id))]
    if mark := own_yard(db).mark:
        context["mark"] = f"data:image/jpeg;base64,{b64encode(mark).decode()}"
    page = templates.get_template("report/paper.html").render(**context, pictures=pictures, fonts=fonts(), at=now())
    made = ask_print(db, job, entry_id(form), page, whoever().name)
    if made.waits:
        request.app.state.queue.set_print(made.id)
    return RedirectResponse(f"/jobs/{job.number}/report#prints", status_code=303)


@router.get("/jobs/{number}/report/prints/{print_id}.pdf")
def printed(job: CurrentJob, db: Db, print_id: UUID) -> Response:
    """A print as it was set."""
    found = print_of(db, print_id)
    if found is None or found.job_id != job.id or found.pdf is None:
        raise HTTPException(404, f"Job {job.number} has no such print, or it is not set yet. Its prints stand on its report.")
    return as_pdf(found.pdf, job.number)


@router.post("/jobs/{number}/report/prints/{print_id}/end")
def end(job: CurrentJob, db: Db, form: Form, print_id: UUID) -> Response:
    """End a print's link."""
    end_link(db, job, print_id)
    return RedirectResponse(f"/jobs/{job.number}/report#prints", status_code=303)


def report_page(db: Session, job: Job, log: JobLog, shown: GuideShown, drains: Sequence[DrainWork], whole: bool) -> ReportPage:
    """Gather both pages of a job's report; `drains` is the drain work of the epochs that have any."""
    work, yard = work_of(job, log), own_yard(db)
    boards = [board_of(job, log.counting(epoch)) for epoch in range(log.epoch + 1)]
    of_engine = shown.guide.concern is not Concern.DRAIN
    word = first_word(job, log, REPORT_WAIT_S, scope_of(job, log)) if of_engine else None
    first_drain = next(iter(drains), None)
    mended = [e for r in log.repairs for e in r.elements]
    readings = log.readings if whole else log.readings[-SHOWN:]
    board = boards[-1] if log.epoch else boards[0]
    return ReportPage(
        job=job, work=work, guide=shown.guide, yard=yard.name, address=yard.address,
        found=finding_of(job, log, shown.step, word, boards[0], first_drain), figures=figures_of(work, drains),
        spared=spared_of(job, word, board, mended), watch=watch_of(word, first_drain, shown.step), ending=ending_of(job, log), word=word,
        cleared=cleared_by(board) if board else (),
        counted=tuple(r for r in readings if r.counts), apart=tuple(r for r in readings if not r.counts), older=len(log.readings) - len(readings),
        judged={j.reading.number: j for b in boards if b for j in b.judged}, first=boards[0],
    )  # fmt: skip
