"""The yard: jobs in hand and what to do on each now."""

import zlib
from datetime import timedelta

from fastapi import APIRouter, HTTPException, Request, Response
from fastapi.responses import RedirectResponse

from iron_probe.core.bench.typed_value import parse_hours
from iron_probe.core.compose.cells import figure_of
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.lines import WaitLine
from iron_probe.store.own_yard import keep_mark, keep_yard, own_yard
from iron_probe.store.tables import now
from iron_probe.web.page import AnyJob, CurrentJob, Db, Form, back_to, entry_id, field, templates
from iron_probe.web.photos.routes import sent_picture
from iron_probe.web.who import whoever
from iron_probe.web.yard.calendar import calendar_of
from iron_probe.web.yard.page import waiting_jobs, yard_page
from iron_probe.work.jobs import restore_job
from iron_probe.work.logs import append, job_log
from iron_probe.work.photos import MARK_SIDE, made_anew

router = APIRouter()

LONGEST = 200
LONGEST_WAIT, MOST_HOURS = 80, 60 * 24.0


@router.get("/")
def yard(request: Request, db: Db, sort: str = "state", after: str = "", search: str = "", deleted: int = 0, minutes: str = "") -> Response:
    """Jobs in hand, newest first; finished ones below; found by machine or number. What waits until when; what fits into `minutes`."""
    page = yard_page(db, sort, after, search, deleted, _minutes(minutes), whoever().name)
    return templates.TemplateResponse(request, "yard/yard.html", {"page": page})


def _minutes(typed: str) -> float | None:
    """Minutes as they were typed; None for nothing, or for what are none."""
    figure = figure_of(typed[:10]) if typed else None
    return min(max(figure, 0.0), 24 * 60.0) if figure is not None else None


@router.post("/jobs/{number}/wait")
def wait(job: CurrentJob, db: Db, form: Form) -> Response:
    """Begin a wait, end it, or begin it anew where it was broken: a door was opened, the charger was off."""
    what = field(form, "what")[:LONGEST_WAIT] or field(form, "kind")[:LONGEST_WAIT]
    if not what:
        raise ReadingError("Say what is waited for")
    if field(form, "broken") == "1":
        lasts = _as_begun(job_log(db, job), what)
    else:
        hours = 0.0 if field(form, "end") == "1" else parse_hours(field(form, "time"))
        if hours > MOST_HOURS:
            raise ReadingError(f"A wait is at most {MOST_HOURS / 24:.0f} days long: say “45 min”, “8 h” or “3 d”")
        lasts = timedelta(hours=hours, seconds=0 if hours else -1)
    append(db, job, whoever(), WaitLine(text=what, until=now() + lasts), entry_id=entry_id(form))
    return back_to(job, field(form, "back"))


def _as_begun(log: JobLog, what: str) -> timedelta:
    """How long a wait was to last when it was begun last; ReadingError where none such is begun."""
    begun = [(kept.at, line.until) for kept, line in log.lines(WaitLine) if line.text == what and line.until > kept.at]
    if not begun:
        raise ReadingError("No such wait was begun on this job: begin it, and say how long it lasts")
    return begun[-1][1] - begun[-1][0]


@router.get("/waits.ics")
def calendar(request: Request, db: Db) -> Response:
    """All waits as a calendar, for whoever plans the day elsewhere."""
    return Response(calendar_of(waiting_jobs(db), request.headers["host"], now()), media_type="text/calendar; charset=utf-8")


@router.get("/yard")
def own(request: Request, db: Db) -> Response:
    """The yard's own name and address, as its reports are headed."""
    row = own_yard(db)
    context = {"name": row.name, "address": row.address, "experience": row.experience, "mark": _version(row.mark), "wrong": ""}
    return templates.TemplateResponse(request, "yard/own.html", context)


@router.post("/yard")
def name_it(request: Request, db: Db, form: Form) -> Response:
    """Keep them."""
    name, address, experience = field(form, "name"), field(form, "address"), field(form, "experience") == "1"
    wrong = (
        ""
        if len(name) <= LONGEST and len(address) <= LONGEST
        else f"At most {LONGEST} characters fit a heading. Shorten it; nothing was lost."
    )
    if wrong:
        mark = _version(own_yard(db).mark)
        context = {"name": name, "address": address, "experience": experience, "mark": mark, "wrong": wrong}
        return templates.TemplateResponse(request, "yard/own.html", context, status_code=422)
    keep_yard(db, name, address, experience=experience)
    return RedirectResponse("/", status_code=303)


def _version(mark: bytes | None) -> str:
    """What tells a mark from the one before it; empty where there is none."""
    return f"{zlib.crc32(mark):x}" if mark else ""


@router.post("/yard/mark")
def put_up_mark(db: Db, form: Form) -> Response:
    """Keep the yard's mark, made anew as JPEG, or take it away."""
    keep_mark(db, None if field(form, "gone") else made_anew(sent_picture(form), MARK_SIDE)[0])
    return RedirectResponse("/yard#mark", status_code=303)


@router.get("/yard/mark.jpg")
def mark(db: Db) -> Response:
    """The yard's mark."""
    found = own_yard(db).mark
    if found is None:
        raise HTTPException(404, "The yard has no mark.")
    return Response(found, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=300"})


@router.post("/jobs/{number}/restore")
def restore(job: AnyJob, db: Db, form: Form) -> Response:
    """Bring a deleted job back."""
    restore_job(db, job)
    return RedirectResponse("/", status_code=303)
