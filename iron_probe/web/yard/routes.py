"""The yard: jobs in hand and what to do on each now."""

from datetime import timedelta

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from iron_probe.core.bench.typed_value import parse_hours
from iron_probe.core.compose.cells import figure_of
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.lines import WaitLine
from iron_probe.store import queries
from iron_probe.store.tables import now
from iron_probe.web.page import AnyJob, CurrentJob, Db, Form, back_to, entry_id, field, templates
from iron_probe.web.who import whoever
from iron_probe.web.yard.calendar import calendar_of
from iron_probe.web.yard.page import waiting_jobs, yard_page
from iron_probe.work.jobs import restore_job
from iron_probe.work.logs import append

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
    """Begin a wait, begin it anew, or end it."""
    what = field(form, "what")[:LONGEST_WAIT] or field(form, "kind")[:LONGEST_WAIT]
    if not what:
        raise ReadingError("Say what is waited for")
    hours = 0.0 if field(form, "end") == "1" else parse_hours(field(form, "time"))
    if hours > MOST_HOURS:
        raise ReadingError(f"A wait is at most {MOST_HOURS / 24:.0f} days long: say “45 min”, “8 h” or “3 d”")
    line = WaitLine(text=what, until=now() + timedelta(hours=hours, seconds=0 if hours else -1))
    append(db, job, whoever(), line, entry_id=entry_id(form))
    return back_to(job, field(form, "back"))


@router.get("/waits.ics")
def calendar(request: Request, db: Db) -> Response:
    """All waits as a calendar, for whoever plans the day elsewhere."""
    return Response(calendar_of(waiting_jobs(db), request.headers["host"], now()), media_type="text/calendar; charset=utf-8")


@router.get("/yard")
def own(request: Request, db: Db) -> Response:
    """The yard's own name and address, as its reports are headed."""
    row = queries.yard(db)
    context = {"name": row.name, "address": row.address, "experience": row.experience, "wrong": ""}
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
        context = {"name": name, "address": address, "experience": experience, "wrong": wrong}
        return templates.TemplateResponse(request, "yard/own.html", context, status_code=422)
    queries.keep_yard(db, name, address, experience=experience)
    return RedirectResponse("/", status_code=303)


@router.post("/jobs/{number}/restore")
def restore(job: AnyJob, db: Db, form: Form) -> Response:
    """Bring a deleted job back."""
    restore_job(db, job)
    return RedirectResponse("/", status_code=303)
