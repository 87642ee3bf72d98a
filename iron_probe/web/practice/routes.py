"""The practice bay: cases begun, the stand-in meter and the cabin panel on a job's screens, and how a case was worked."""

from dataclasses import asdict, dataclass
from typing import Any

from fastapi import APIRouter, Request, Response
from fastapi.responses import JSONResponse, RedirectResponse
from sqlmodel import Session

from iron_probe.bay.case import Level
from iron_probe.bay.cost import cost
from iron_probe.bay.marks import FULL, PASSES
from iron_probe.core.draw.spark import spark
from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.store.practice import cases, marked
from iron_probe.web.page import CurrentJob, Db, Form, entry_id, field, templates
from iron_probe.web.point_names import point_meant
from iron_probe.web.practice.stories import CAUTION, LEVEL, story
from iron_probe.web.who import Who, whoever
from iron_probe.work import practice
from iron_probe.work.drain_work import tree_of
from iron_probe.work.guide_work import begins_on
from iron_probe.work.logs import job_log

router = APIRouter()
COLUMNS = ("closed", "by", "level", "machine", "number", "without the guide", "marks")
MOST_DRAWN = 24
FIRST = (Level.ONE, "green-mower", 9)
"""The case that a new yard teaches by: a small machine, one fault that its owner notices."""


@router.get("/practice")
def bay(request: Request, db: Db, who: Who, level: str = "", machine: str = "", number: str = "", alone: str = "") -> Response:
    """Cases to begin, and those that were begun; a link may name one, as a lead sets it."""
    said = {
        "level": level if level in {one.value for one in Level} else Level.ONE.value,
        "sheet_id": machine if machine in sheet_ids() else "crew-minibus", "number": number[:6], "alone": alone,
    }  # fmt: skip
    return _page(request, db, who.person.name, said, "")


@router.get("/practice/records.csv")
def records(db: Db) -> Response:
    """Every case that was marked, as a table."""
    rows = [
        (
            f"{job.closed_at:%Y-%m-%dT%H:%M:%SZ}" if job.closed_at else "",
            row.by,
            row.level,
            row.sheet_id,
            row.number,
            int(job.unguided),
            row.marks,
        )
        for row, job in marked(db)
    ]
    text = "\n".join(",".join(_cell(cell) for cell in line) for line in (COLUMNS, *rows))
    return Response(text + "\n", media_type="text/csv", headers={"Content-Disposition": 'attachment; filename="practice-records.csv"'})


def _cell(value: object) -> str:
    text = str(value)
    if text[:1] in ("=", "+", "-", "@"):
        text = f"'{text}"  # a spreadsheet would work it out
    return f'"{text.replace(chr(34), chr(34) * 2)}"' if any(c in text for c in ',"\n') else text


def _page(request: Request, db: Session, name: str, said: dict[str, str], wrong: str) -> Response:
    context: dict[str, Any] = {
        "levels": LEVEL, "sheets": [load_sheet(i) for i in sheet_ids()], "said": said, "wrong": wrong, "cases": cases(db), "me": name,
        "titles": {i: load_sheet(i).title for i in sheet_ids()}, "highest": practice.HIGHEST_NUMBER, "curves": _curves(db), "passes": PASSES,
    }  # fmt: skip
    return templates.TemplateResponse(request, "practice/practice.html", context, status_code=422 if wrong else 200)


@router.post("/practice")
def begin(request: Request, db: Db, who: Who, form: Form) -> Response:
    """Begin a case; the same number gives the same case to everybody."""
    said = {name: field(form, name) for name in ("level", "sheet_id", "number", "alone")}
    case_id = entry_id(form)
    try:
        asked = FIRST if field(form, "first") else _asked(said, case_id.int)
        alone = said["alone"] == "1"
        if asked[0] is Level.YARD:
            job = practice.begin_like(db, case_id, asked[2], whoever(), alone=alone)
        else:
            job = practice.begin(db, case_id, asked, story, whoever(), alone=alone)
    except IronProbeError as error:
        return _page(request, db, who.person.name, said, str(error))
    return RedirectResponse(f"/jobs/{job.number}{begins_on(job) if not job.alone else ''}", status_code=303)


@dataclass(frozen=True, slots=True)
class Curve:
    """How somebody does: marks from the first case to the last, drawn as a line, and how many were passed."""

    by: str
    marks: tuple[int, ...]
    line: tuple[tuple[float, float], ...]
    passed: int


def _curves(db: Session) -> list[Curve]:
    by: dict[str, list[int]] = {}
    for row, _ in marked(db):
        by.setdefault(row.by, []).append(row.marks or 0)
    return [Curve(name, tuple(got), spark(got[-MOST_DRAWN:]), sum(m >= PASSES for m in got)) for name, got in sorted(by.items())]


def _asked(said: dict[str, str], chance: int) -> tuple[Level, str, int]:
    if said["level"] not in {level.value for level in Level}:
        raise ReadingError("Choose one of the levels listed")
    if said["level"] == Level.YARD:
        if not said["number"].isdecimal() or len(said["number"]) > 6:
            raise ReadingError("Give the number of a closed job of the yard: its case is made from that")
        return Level.YARD, "", int(said["number"])
    if said["sheet_id"] not in sheet_ids():
        raise ReadingError("Choose one of the machines listed")
    if said["number"] and not (said["number"].isdecimal() and int(said["number"]) <= practice.HIGHEST_NUMBER):
        raise ReadingError(f"A case's number is a whole number up to {practice.HIGHEST_NUMBER:,}; leave it empty for any")
    return Level(said["level"]), said["sheet_id"], int(said["number"] or chance % (practice.HIGHEST_NUMBER + 1))


@router.post("/jobs/{number}/meter")
def meter(job: CurrentJob, db: Db, form: Form) -> Response:
    """What the stand-in shows where a field says that the leads are; the page puts it into the field."""
    sent = {name: value for name, value in form.items() if isinstance(value, str)}
    try:
        sent |= {lead: point_meant(job.sheet, sent[lead]) for lead in ("red", "black") if lead in sent}
        return JSONResponse(practice.meter_shows(db, job, job_log(db, job), sent))
    except IronProbeError as error:
        return JSONResponse({"error": str(error)}, status_code=422)


@router.get("/jobs/{number}/cabin")
def cabin(request: Request, job: CurrentJob, db: Db, state: str = "") -> Response:
    """What is heard and seen from the seat in a state."""
    seen = practice.cabin(db, job, job_log(db, job), state)
    return templates.TemplateResponse(request, "practice/_cabin.html", {"job": job, "cabin": seen})


@router.post("/jobs/{number}/hands")
def hands(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Touch, warm, wet, part or bridge a part while a state is held, put an ammeter in its place, or wait; then look and listen."""
    state = field(form, "state")
    try:
        done = practice.handle(db, job, job_log(db, job), field(form, "by"), field(form, "element"), state)
        seen = practice.cabin(db, job, job_log(db, job), state, after=done)
    except IronProbeError as error:
        return templates.TemplateResponse(request, "practice/_cabin.html", {"job": job, "wrong": str(error)}, status_code=422)
    return templates.TemplateResponse(request, "practice/_cabin.html", {"job": job, "cabin": seen, "done": done, "cautions": CAUTION})


@router.get("/jobs/{number}/practice.json")
def as_file(job: CurrentJob, db: Db) -> Response:
    """A closed case with its replay and marks, as a file; the log goes out with the job's own."""
    found = practice.result(db, job, job_log(db, job))
    if job.closed_at is None:
        raise ReadingError("What is hidden is told once the job is closed: close it in its report, then take the file")
    told = {
        "level": found.row.level, "machine": found.row.sheet_id, "number": found.row.number, "by": found.row.by, "without_guide": job.unguided,
        "closed": job.closed_at.isoformat(), "marks": found.marks, "worked": asdict(found.worked), "hidden": found.row.faults,
        "replay": found.replay.model_dump(mode="json") if found.replay else None,
    }  # fmt: skip
    return JSONResponse(told, headers={"Content-Disposition": f'attachment; filename="practice-{job.number}.json"'})


@router.get("/jobs/{number}/practice")
def how_it_went(request: Request, job: CurrentJob, db: Db) -> Response:
    """Marks, what was hidden, and the replay; the hidden fault is told once the job is closed."""
    found = practice.result(db, job, job_log(db, job))
    if job.closed_at is not None and found.replay is None:
        request.app.state.queue.replay_practice(job.id)
    context = {
        "job": job,
        "result": found,
        "levels": LEVEL,
        "full": FULL,
        "passes": PASSES,
        "level": Level(found.row.level),
        "sheet": found.sheet,
        "tree": tree_of(job)[1],
        "cautions": CAUTION,
        "crowns": lambda minutes: cost(found.sheet, minutes, ()),
    }
    return templates.TemplateResponse(request, "practice/result.html", context)
