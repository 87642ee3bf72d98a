"""The charge board: readings by place and state, lamp, amps and ripple, the stator unplugged, the bus line, suspects and next test."""

from fastapi import APIRouter, Request, Response
from sqlmodel import Session

from iron_probe.core.bench.bus import bus_line, read_levels
from iron_probe.core.bench.charging import band, energy_balance, has_charging, maker_of
from iron_probe.core.bench.stator import judge_unplugged, stator_readings
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.elements import Stator
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.trend import Strip, trend
from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import TestLine
from iron_probe.core.trace.layout import Layout, Role
from iron_probe.store import captures
from iron_probe.web.charge.page import STATOR_FIELDS, charge_page
from iron_probe.web.entry import Entered, correcting, read_at
from iron_probe.web.language import N_
from iron_probe.web.page import CurrentJob, Db, Form, back_to, entry_id, field, templates
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.work.logs import append, job_log

router = APIRouter()


def no_charging(sheet: Sheet) -> str:
    """Why a sheet has no charging to look at."""
    return "" if has_charging(sheet) else "this machine makes no current of its own."


SCREEN = Screen(name="charge", path="/charge", title=N_("Charge board"), refuses=no_charging)

RECORD_S, RECORD_POINTS = 20.0, 240
"""A capture from this length on is a record of the engine running, drawn with so many points at most."""


@router.get("/jobs/{number}/charge")
def board(request: Request, job: CurrentJob, db: Db, place: str = "", state: str = "", corrects: str = "") -> Response:
    """The charge board at a place in a state, a reading of it to be corrected. A machine without a charging system shows what it lives on."""
    sheet = job.sheet
    if not has_charging(sheet):
        balance = energy_balance(sheet, job.conditions, 0.0)
        return templates.TemplateResponse(request, "charge/total_loss.html", {"job": job, "sheet": sheet, "balance": balance})
    log = job_log(db, job)
    page = charge_page(job, log, place, state, correcting(log, corrects, f"{place}:{state}"), record=record_of(db, job))
    return templates.TemplateResponse(request, "charge/charge.html", {"page": page})


def record_of(db: Session, job: Job) -> tuple[str, Strip] | None:
    """The newest long capture of the job with volts in it, laid out on the strip beside its name."""
    sheet = job.sheet
    for row in captures.captures_of(db, job):
        if row.status != "ready" or row.facts["count"] * row.facts["step_s"] < RECORD_S:
            continue
        roles = [c.role for c in Layout.model_validate(row.layout).channels]
        if Role.VOLTS not in roles:
            continue
        seen = captures.read_view(db, row, 0, row.facts["count"], RECORD_POINTS)
        step_s = seen.per_column * row.facts["step_s"]
        middle = [
            [(k * step_s, float(a + b) / 2) for k, (a, b) in enumerate(zip(*pair, strict=True))]
            for pair in zip(seen.low, seen.high, strict=True)
        ]
        volts = middle[roles.index(Role.VOLTS)]
        amps = middle[roles.index(Role.AMPS)] if Role.AMPS in roles else []
        strip = trend(volts, amps, band(job.temp_degc, sheet.system_v), maker_of(sheet).rated_a, sheet.system_v)
        return (row.filename, strip) if strip else None
    return None


@router.get("/jobs/{number}/charge/word")
def word(request: Request, job: CurrentJob, db: Db, place: str = "", state: str = "") -> Response:
    """The engine's part, asked for again until its ensemble is ready, and the step with it; the leads stay where they are."""
    page = charge_page(job, job_log(db, job), place, state)
    return templates.TemplateResponse(request, "charge/_charge_word.html", {"page": page, "oob": True})


def refused(request: Request, job: Job, db: Session, form: Form, entered: Entered) -> Response:
    """The board again with what could not be logged still in its field."""
    place, _, state = entered.at.partition(":")
    page = charge_page(job, job_log(db, job), place, state, entered, record=record_of(db, job))
    return templates.TemplateResponse(request, "charge/charge.html", {"page": page}, status_code=422)


@router.post("/jobs/{number}/charge/stator")
def log_stator(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """The unplugged stator and the diode matrix, kept as typed."""
    sheet = job.sheet
    stator = next((e for e in sheet.elements if isinstance(e, Stator)), None)
    if stator is None:
        raise ReadingError("This machine has no stator of its own to unplug")
    typed = {k: field(form, k)[:20] for k in STATOR_FIELDS if field(form, k)}
    try:
        judge_unplugged(stator, typed)
        readings = stator_readings(stator, sheet, typed)
        line = TestLine(screen="stator", subject=stator.id, test="unplugged", typed=typed, readings=readings, read_at=read_at(form))
        append(db, job, whoever(), line, entry_id=entry_id(form))
    except IronProbeError as error:
        return refused(request, job, db, form, Entered.refused(form, error, "stator"))
    return back_to(job, "/charge#stator")


@router.post("/jobs/{number}/charge/bus")
def log_bus(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """The levels along the one-wire line, kept as typed: where the swing is lost raises what lies there."""
    sheet = job.sheet
    line = bus_line(sheet)
    if line is None:
        raise ReadingError("This machine is not commanded over a bus")
    keys = ["supply", *(f"{kind}:{point}" for point in line.points for kind in ("idle", "low"))]
    typed = {k: field(form, k)[:20] for k in keys if field(form, k)}
    try:
        supply = parse_quantity(typed.get("supply", ""), "V").value
        levels = read_levels(line, typed, supply)
        if not levels:
            raise ReadingError("No levels typed: give the quiet level and the lowest at one point of the line at least.")
        kept = TestLine(screen="bus", subject=line.master.id, test="levels", typed=typed | {"supply": f"{supply:g}"}, read_at=read_at(form))
        append(db, job, whoever(), kept, entry_id=entry_id(form))
    except IronProbeError as error:
        return refused(request, job, db, form, Entered.refused(form, error, "bus"))
    return back_to(job, "/charge#bus")
