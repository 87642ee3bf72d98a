"""The yard: jobs in hand and what to do on each now."""

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from iron_probe.web.page import AnyJob, Db, Form, templates
from iron_probe.web.yard.page import yard_page
from iron_probe.work.jobs import restore_job

router = APIRouter()


@router.get("/")
def yard(request: Request, db: Db, sort: str = "state", after: str = "", search: str = "", deleted: int = 0) -> Response:
    """Jobs in hand, newest first; finished ones below; found by machine or number."""
    return templates.TemplateResponse(request, "yard/yard.html", {"page": yard_page(db, sort, after, search, deleted)})


@router.post("/jobs/{number}/restore")
def restore(job: AnyJob, db: Db, form: Form) -> Response:
    """Bring a deleted job back."""
    restore_job(db, job)
    return RedirectResponse("/", status_code=303)
