"""The charge board: readings by place and state, lamp, amps and ripple, the stator unplugged, suspects and next test."""

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from iron_probe.core.bench.charging import maker_of
from iron_probe.core.bench.stator import judge_unplugged, readings_of
from iron_probe.core.circuit.elements import Stator
from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.machines import load_sheet
from iron_probe.store import queries
from iron_probe.store.job_log import TestLine
from iron_probe.web.bench import read_form
from iron_probe.web.charge_page import STATOR_FIELDS, charge_page
from iron_probe.web.page import CurrentJob, Db, Form, entry_id, field, templates

router = APIRouter()


@router.get("/jobs/{number}/charge")
def board(request: Request, job: CurrentJob, db: Db, state: str = "") -> Response:
    """The charge board; the drawing shows the state named in the address."""
    return templates.TemplateResponse(request, "charge.html", {"page": charge_page(job, queries.job_log(db, job), state)})


@router.get("/jobs/{number}/charge/word")
def word(request: Request, job: CurrentJob, db: Db) -> Response:
    """The engine's part, asked for again until its ensemble is ready."""
    return templates.TemplateResponse(request, "_charge_word.html", {"page": charge_page(job, queries.job_log(db, job))})


@router.post("/jobs/{number}/charge/readings")
def log_reading(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """A reading on the circuit, taken at a place of the board."""
    log = queries.job_log(db, job)
    try:
        maker_of(load_sheet(job.sheet_id))
        line = read_form(job, form, max((r.reading.crank or 0 for r in log.readings), default=0))
    except IronProbeError as error:
        page = charge_page(job, log, field(form, "state"), str(error), field(form, "at"), field(form, "value")[:40])
        return templates.TemplateResponse(request, "charge.html", {"page": page}, status_code=422)
    queries.append(db, job, entry_id(form), line)
    return RedirectResponse(f"/jobs/{job.number}/charge?state={line.reading.state}", status_code=303)


@router.post("/jobs/{number}/charge/stator")
def log_stator(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """The unplugged stator and the diode matrix, kept as typed."""
    stator = next((e for e in load_sheet(job.sheet_id).elements if isinstance(e, Stator)), None)
    if stator is None:
        raise ReadingError("This machine has no stator of its own to unplug")
    typed = {k: field(form, k)[:20] for k in STATOR_FIELDS if field(form, k)}
    try:
        judge_unplugged(stator, typed)
    except IronProbeError as error:
        page = charge_page(job, queries.job_log(db, job), wrong=str(error), wrong_at="stator", stator_typed=typed)
        return templates.TemplateResponse(request, "charge.html", {"page": page}, status_code=422)
    queries.append(
        db,
        job,
        entry_id(form),
        TestLine(
            screen="stator", subject=stator.id, test="unplugged", typed=typed, readings=readings_of(stator, load_sheet(job.sheet_id), typed)
        ),
    )
    return RedirectResponse(f"/jobs/{job.number}/charge#stator", status_code=303)
