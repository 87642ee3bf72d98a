"""Meters that send what they show: those of the yard and how one joins; on a job, the bar of those in use, and how they are set."""

import json
from typing import Any
from uuid import UUID

from fastapi import APIRouter, Request, Response
from fastapi.responses import JSONResponse, RedirectResponse
from sqlmodel import Session
from starlette.datastructures import FormData

from iron_probe.core.bench.drain.currents import TOTAL, Way
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import Job
from iron_probe.core.meters.measured import SHOWN_IN, needed
from iron_probe.core.people.rights import Right
from iron_probe.instruments.meter import ADDRESS
from iron_probe.store import meters as store
from iron_probe.store.meters import Placing
from iron_probe.web.language import N_
from iron_probe.web.page import CurrentJob, Db, Form, field, templates
from iron_probe.web.point_names import point_meant
from iron_probe.web.screen import Screen
from iron_probe.web.who import Who, needs, whoever
from iron_probe.work import meter_records as records
from iron_probe.work import meters as work
from iron_probe.work.stand_in_leads import HELD_S, READY_S

router = APIRouter()
SCREEN = Screen(name="meters", path="/meters", title=N_("Meters"), aside=True)
NEEDED = {i.value: needed(i) for i in Instrument if needed(i)}
"""What a meter is set to for each test, as the bar checks it before it logs."""
BAUDS = (9600, 19200, 38400, 57600, 115200)
"""Speeds of serial lines that meters have (common practice), the usual one first."""
SET = ("measured", "factor", "shown", "reset", "watches")


@router.get("/meters")
def of_the_yard(request: Request, db: Db, who: Who) -> Response:
    """Every meter the yard has seen, and how another one joins; the key is shown to whoever leads the yard."""
    context: dict[str, Any] = {
        "meters": store.meters(db), "jobs": store.jobs_with(db), "address": ADDRESS, "here": str(request.base_url).rstrip("/"),
        "bauds": BAUDS, "key": work.yard_key(db) if who.person.role.may(Right.LEAD) else "",
    }  # fmt: skip
    return templates.TemplateResponse(request, "meters/meters.html", context)


@router.get("/jobs/{number}/meters")
def on_job(request: Request, job: CurrentJob, db: Db) -> Response:
    """Meters of a job, and those that may be taken to it."""
    return templates.TemplateResponse(request, "meters/of_job.html", _context(job, db))


@router.get("/jobs/{number}/meters/bar")
def bar(request: Request, job: CurrentJob, db: Db) -> Response:
    """The bar at the foot of a job's pages; nothing where no meter is in use."""
    return templates.TemplateResponse(request, "meters/_bar.html", _context(job, db))


def _context(job: Job, db: Session) -> dict[str, Any]:
    used = store.uses_of(db, job.id)
    taken = {use.meter_id for use, _ in used}
    return {
        "job": job, "used": used, "units": SHOWN_IN, "needed": json.dumps({"needed": NEEDED, "cranking": [i for i, s in job.sheet.states.items() if s.cranking]}), "crank_s": (READY_S, READY_S + HELD_S),
        "offered": [m for m in work.usable(db, job) if m.id not in taken],
    }  # fmt: skip


@router.post("/jobs/{number}/meters/placed")
@needs(Right.WORK)
def placed(job: CurrentJob, db: Db, form: Form) -> Response:
    """Put the stand-ins' leads where a field of a page says they are."""
    try:
        work.place(db, job, _placing(job, form))
    except ReadingError as error:
        return JSONResponse({"error": str(error)}, status_code=422)
    return Response(status_code=204)


def _placing(job: Job, form: FormData) -> Placing:
    """Where a page's field says the leads are: a reading's, a probe's of the sleeping machine, or round the battery's cable."""
    sheet = job.sheet
    asleep, where = next(iter(sheet.states)), field(form, "where")
    if where and where != TOTAL and field(form, "way"):
        element = sheet.element(where.partition(".")[0])
        if field(form, "way") == Way.DROP:
            red, black = element.points()[:2]
            return Placing(job_id=job.id, state=asleep, instrument=Instrument.VOLTMETER, red=red, black=black)
        return Placing(job_id=job.id, state=asleep, instrument=Instrument.CLAMP, branch=where)
    if field(form, "instrument"):
        red, black = (point_meant(sheet, field(form, lead)) if field(form, lead) else "" for lead in ("red", "black"))
        return Placing(
            job_id=job.id,
            state=field(form, "state") or asleep,
            instrument=field(form, "instrument"),
            red=red,
            black=black,
            branch=field(form, "branch"),
        )
    of_battery = field(form, "battery") or sheet.batteries[0].id
    state, instrument = asleep, Instrument.CLAMP
    if field(form, "test"):  # a test of the battery: at its posts, turned or loaded as the test says
        state = (sheet.cranking_state() or asleep) if field(form, "test") == "crank" else asleep
        instrument = Instrument.LOAD if field(form, "test") == "load" else Instrument.VOLTMETER
    red, black = sheet.element(of_battery).points()[:2]
    return Placing(job_id=job.id, state=state, instrument=instrument, red=red, black=black, branch=of_battery)


@router.post("/jobs/{number}/meters/{meter}")
def change(request: Request, job: CurrentJob, db: Db, form: Form, meter: UUID) -> Response:
    """Take a meter, put it away, set it, or have its stream recorded or not."""
    match field(form, "do"):
        case "take":
            work.take(db, job, meter, whoever(), field(form, "measured"))
        case "away":
            work.put_away(db, job, meter)
        case "record":
            records.begin_record(db, job, meter)
        case "end":
            ended = records.end_record(db, job, meter)
            if ended is not None and records.to_be_read(db, ended):
                request.app.state.queue.read_capture(ended)
        case "set":
            work.set_to(db, job, meter, {name: field(form, name)[:40] for name in SET})
        case _:
            raise ReadingError("A meter is taken, put away, set or recorded: use the keys of this page")
    if request.headers.get("Accept") == "application/json":
        return Response(status_code=204)
    return RedirectResponse(f"/jobs/{job.number}/meters", status_code=303)
