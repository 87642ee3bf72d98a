"""The yard: jobs in hand and what to do on each now."""

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from iron_probe.store import queries
from iron_probe.web.page import AnyJob, Db, Form, field, templates
from iron_probe.web.yard.page import yard_page
from iron_probe.work.jobs import restore_job

router = APIRouter()

LONGEST = 200


@router.get("/")
def yard(request: Request, db: Db, sort: str = "state", after: str = "", search: str = "", deleted: int = 0) -> Response:
    """Jobs in hand, newest first; finished ones below; found by machine or number."""
    return templates.TemplateResponse(request, "yard/yard.html", {"page": yard_page(db, sort, after, search, deleted)})


@router.get("/yard")
def own(request: Request, db: Db) -> Response:
    """The yard's own name and address, as its reports are headed."""
    row = queries.yard(db)
    return templates.TemplateResponse(request, "yard/own.html", {"name": row.name, "address": row.address, "wrong": ""})


@router.post("/yard")
def name_it(request: Request, db: Db, form: Form) -> Response:
    """Keep them."""
    name, address = field(form, "name"), field(form, "address")
    wrong = (
        ""
        if len(name) <= LONGEST and len(address) <= LONGEST
        else f"At most {LONGEST} characters fit a heading. Shorten it; nothing was lost."
    )
    if wrong:
        context = {"name": name, "address": address, "wrong": wrong}
        return templates.TemplateResponse(request, "yard/own.html", context, status_code=422)
    queries.keep_yard(db, name, address)
    return RedirectResponse("/", status_code=303)


@router.post("/jobs/{number}/restore")
def restore(job: AnyJob, db: Db, form: Form) -> Response:
    """Bring a deleted job back."""
    restore_job(db, job)
    return RedirectResponse("/", status_code=303)
