"""Repair and retest: what was done, and the same probes again."""

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from iron_probe.store import queries
from iron_probe.store.job_log import RepairLine
from iron_probe.store.tables import now
from iron_probe.web.job_work import work_of
from iron_probe.web.page import CurrentJob, Db, Form, entry_id, field, templates

router = APIRouter()

LONGEST = 2000


def _page(request: Request, job: CurrentJob, db: Db, text: str = "", wrong: str = "") -> Response:
    work = work_of(job, queries.job_log(db, job))
    context = {"work": work, "job": job, "text": text, "wrong": wrong}
    return templates.TemplateResponse(request, "repair.html", context, status_code=422 if wrong else 200)


@router.get("/jobs/{number}/repair")
def repair(request: Request, job: CurrentJob, db: Db) -> Response:
    """Before and after, side by side, and the form for what was done."""
    return _page(request, job, db)


@router.post("/jobs/{number}/repairs")
def log_repair(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Record a repair; readings before it then belong to the machine as it was."""
    text = field(form, "text")
    known = {e.id for e in work_of(job, queries.job_log(db, job)).sheet.elements}
    elements = [e for e in form.getlist("elements") if isinstance(e, str) and e in known]
    if not text:
        return _page(
            request, job, db, text, "Say what was done, such as “cleaned and tightened the minus clamp”; the report will quote it."
        )
    if len(text) > LONGEST:
        return _page(request, job, db, text, f"{len(text):,} characters; at most {LONGEST:,} fit here. Shorten it.")
    queries.append(db, job, entry_id(form), RepairLine(text=text, elements=elements))
    return RedirectResponse(f"/jobs/{job.number}/repair", status_code=303)


@router.post("/jobs/{number}/close")
def close(job: CurrentJob, db: Db, form: Form) -> Response:
    """Close a job, or open it again."""
    job.closed_at = None if job.closed_at else now()
    queries.save_job(db, job)
    return RedirectResponse(f"/jobs/{job.number}/report", status_code=303)
