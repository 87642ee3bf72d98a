"""What every page shares: templates, the database session, the job of a path, words for numbers."""

import re
from collections.abc import AsyncIterator
from dataclasses import dataclass
from pathlib import Path
from typing import Annotated
from urllib.parse import quote, urlencode
from uuid import UUID, uuid4

from fastapi import Depends, HTTPException, Request, Response
from fastapi.responses import RedirectResponse
from fastapi.templating import Jinja2Templates
from sqlmodel import Session
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import FormData

from iron_probe.core.circuit.fuse_boxes import boxes_of
from iron_probe.core.guide.route import Concern
from iron_probe.core.guide.step import Act, Guide
from iron_probe.core.job.history import Since
from iron_probe.core.job.job import Job
from iron_probe.core.job.step import Due, JobStep, kept_step
from iron_probe.web import (
    battery_words,
    control_words,
    fault_words,
    finding_words,
    guide_words,
    help_words,
    language,
    local_units,
    trace_words,
    words,
)
from iron_probe.web.cautions import CAUTIONS
from iron_probe.web.csrf import guarded_form
from iron_probe.web.screen import Screen
from iron_probe.work.guide_work import CRANKS_BADLY, guide_of, page_of
from iron_probe.work.history import worse_than_last_time
from iron_probe.work.instrument import drain_log
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log
from iron_probe.work.summary import waits_of


@dataclass(frozen=True, slots=True, kw_only=True)
class GuideShown:
    """The guide of the job in hand as every one of its screens shows it: the step as a value and in titles, and the screen it is taken on."""

    guide: Guide
    step: JobStep
    job: Job
    page: str
    of: tuple[Job, int]
    worse: tuple[Since, ...]
    waits: tuple[Due, ...]

    @property
    def href(self) -> str:
        """Where the step is taken, the leads where it says."""
        r, base = self.guide.step.reading, f"/jobs/{self.job.number}{self.page}"
        if r is None or self.page:
            return base
        asked = {"red": r.red, "black": r.black, "branch": r.branch, "state": r.state, "instrument": r.instrument.value, "itself": r.itself}
        return f"{base}?{urlencode({k: v for k, v in asked.items() if v})}"


def _page_of(found: Guide, job: Job) -> str:
    """The screen that a step is taken on: a reading where its kind of work is done, a probe at its slot of the fuse box."""
    step = found.step
    if step.reading is not None:
        return page_of(job, found.concern) if found.concern is Concern.CHARGING else ""
    if step.act in (Act.LATCH, Act.WAIT, Act.TOTAL, Act.RECORD):
        return "/drain"
    if step.probe is not None:
        return f"/drain/sweep?at={quote(step.probe.where)}" if boxes_of(job.sheet) else "/drain"
    return guide_words.PAGE.get(step.leg, "")


def guide_now(request: Request) -> GuideShown | None:
    """The guide of the request's job as its log stands now; None on a page of no job."""
    job, db = getattr(request.state, "job", None), getattr(request.state, "db", None)
    if job is None or db is None:
        return None
    log = job_log(db, job)
    shown = getattr(request.state, "guide", None)
    if isinstance(shown, GuideShown) and shown.of == (job, log.seq):
        return shown
    if job.symptom not in CRANKS_BADLY:
        log = drain_log(db, job)
    found = guide_of(job, log)
    page = _page_of(found, job)
    worse = worse_than_last_time(db, job, log)
    request.state.guide = GuideShown(
        guide=found, step=kept_step(found.step, job.sheet), job=job, page=page, of=(job, log.seq), worse=worse, waits=waits_of(log)
    )
    return request.state.guide


def _guide(request: Request) -> dict[str, object]:
    return {"guide_now": lambda: guide_now(request), "help": help_words.help_of(request)}


templates = Jinja2Templates(directory=Path(__file__).parent, context_processors=[_guide])
templates.env.globals.update(
    words=words,
    units=local_units,
    finding=finding_words,
    of_fault=fault_words,
    of_battery=battery_words,
    of_control=control_words,
    of_trace=trace_words,
    of_guide=guide_words,
    CAUTIONS=CAUTIONS,
    new_id=uuid4,
)
templates.env.add_extension("jinja2.ext.i18n")
templates.env.install_gettext_callables(language.in_page, language.in_page_by_count)  # type: ignore[attr-defined]
templates.env.globals["_n"] = language.in_page_by_count
templates.env.globals.update(N_=language.N_, begun=language.begun, spoken=language.spoken, languages=language.languages)
templates.env.finalize = language.worded
templates.env.filters["format"] = language.put_in
templates.env.auto_reload = False
templates.env.trim_blocks = templates.env.lstrip_blocks = True


async def open_session(request: Request) -> AsyncIterator[Session]:
    """A database session for one request. It takes no thread until it asks something, and one to give its connection back."""
    looks = request.method in ("GET", "HEAD")
    session = Session(request.app.state.looking if looks else request.app.state.engine)
    try:
        yield session
    finally:
        request.state.db = None  # a refusal that is worded after this asks the database nothing more
        if looks:
            session.close()  # nothing is asked on the way back: each question stood for itself
        elif session.in_transaction():
            await run_in_threadpool(session.close)


Db = Annotated[Session, Depends(open_session)]
Form = Annotated[FormData, Depends(guarded_form)]


def any_job(number: int, db: Db) -> Job:
    """The job of the path, deleted or not; 404 with a clear word when there is none."""
    job = find_job(db, number) if 0 < number < 2**62 else None
    if job is None:
        raise HTTPException(404, f"There is no job {number}. The yard lists every job in hand.")
    return job


async def current_job(request: Request, db: Db, job: Annotated[Job, Depends(any_job)]) -> Job:
    """The job of the path; 404 or 410 with a clear word when it is not there."""
    request.state.job, request.state.db = job, db
    if job.deleted_at is not None:
        raise HTTPException(
            410,
            f"Job {job.number} was deleted on {job.deleted_at:%d %b %Y at %H:%M}. Nothing was logged. The yard can bring it back.",
        )
    return job


CurrentJob = Annotated[Job, Depends(current_job)]
AnyJob = Annotated[Job, Depends(any_job)]


def not_offered(request: Request, job: Job, screen: Screen) -> Response | None:
    """The page that says why a screen is not offered on this machine; None where it is."""
    why = screen.refuses(job.sheet)
    return templates.TemplateResponse(request, "shared/not_offered.html", {"job": job, "screen": screen, "why": why}) if why else None


def field(form: FormData, name: str, default: str = "") -> str:
    """A text field of a form, with line ends made plain and null characters, which the database cannot keep, left out."""
    value = form.get(name, default)
    return value.replace("\r\n", "\n").replace("\x00", "").strip() if isinstance(value, str) else default


def entry_id(form: FormData) -> UUID:
    """The id the page made for this entry, so that sending it twice writes it once; a new one if it is missing or broken."""
    try:
        return UUID(field(form, "entry_id"))
    except ValueError:
        return uuid4()


def back_to(job: Job, back: str) -> Response:
    """To the screen of the job one came from, named by its path behind the job's; to the Bench where that is no such path."""
    own = re.fullmatch(r"(/[a-z]+)+(\?[^/\\#]*)?(#[\w.:-]*)?", back)
    return RedirectResponse(f"/jobs/{job.number}{back if own else ''}", status_code=303)


def is_fragment(request: Request) -> bool:
    """Whether htmx asks for a part of the page."""
    return request.headers.get("HX-Request") == "true" and request.headers.get("HX-Boosted") != "true"
