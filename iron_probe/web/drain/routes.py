"""Drain watch: the total as it is watched, the wait, ways in, records read as sleep, drain and battery against the complaint."""

from dataclasses import dataclass
from uuid import UUID

from fastapi import APIRouter, Request, Response
from pydantic import TypeAdapter
from sqlmodel import Session

from iron_probe.core.bench.battery.card import BatteryCard
from iron_probe.core.bench.battery.endurance import endurance
from iron_probe.core.bench.drain.currents import TOTAL, Way
from iron_probe.core.bench.drain.explain import Combined, NotReproduced, judge_together, not_reproduced
from iron_probe.core.bench.drain.feed_tree import Draws
from iron_probe.core.bench.drain.limits import LIMIT_REASON, LimitSchool, WayIn, latches_of, ways_in
from iron_probe.core.bench.drain.sleep_record import SleepRecord, sleep_of
from iron_probe.core.bench.drain.suspects import METHOD_REASON, Method
from iron_probe.core.bench.plausible import doubt_of_sleep
from iron_probe.core.bench.typed_value import parse_bare, parse_hours
from iron_probe.core.draw.watch import Watch, watch
from iron_probe.core.errors import CaptureError, IronProbeError, ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import DrainLine, MarkLine, WaitLine
from iron_probe.core.limits import EXPLAINS_WITHIN
from iron_probe.core.trace.steps import Stairs, even_record, find_steps
from iron_probe.store import captures
from iron_probe.store.tables import Capture
from iron_probe.web import words
from iron_probe.web.battery.page import battery_page
from iron_probe.web.captures.routes import SLEEP_SAMPLES
from iron_probe.web.entry import NOTHING, Entered, ask_first, by_meter, corrected, correcting_drain, read_at
from iron_probe.web.language import N_
from iron_probe.web.page import CurrentJob, Db, Form, back_to, entry_id, field, templates
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.work.drain_work import METER_STEPS_V, DrainWork, drain_work
from iron_probe.work.instrument import drain_log
from iron_probe.work.jobs import change_job, set_drain
from iron_probe.work.logs import append

router = APIRouter()
SCREEN = Screen(name="drain", path="/drain", title=N_("Drain"))
STAIRS = TypeAdapter(Stairs)
MARKED = {"latched": "latched", "locked": "locked", "opened": "door opened", "booked": "switched on", "unbooked": "switched off"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Read:
    """A record read as one of going to sleep: a capture, or the totals typed so far (`row` None)."""

    row: Capture | None
    sleep: SleepRecord
    days_to_no_start: float
    ended: NotReproduced | None


@dataclass(frozen=True, slots=True, kw_only=True)
class DrainPage:
    """The whole context of the drain watch."""

    work: DrainWork
    watch: Watch | None
    ways: tuple[WayIn, ...]
    records: tuple[Capture, ...]
    read: Read | None
    hours: str
    combined: Combined | None
    card: BatteryCard
    entered: Entered = NOTHING

    @property
    def latches(self) -> tuple[tuple[str, str, bool], ...]:
        """The latch list, each with whether it was seen to since a door was last opened."""
        opened = max((m.at for m in self.work.marks if m.line.what == "opened"), default=None)
        seen = {m.line.text for m in self.work.marks if m.line.what == "latched" and (opened is None or m.at > opened)}
        return tuple((key, text, key in seen) for key, text in latches_of(self.work.sheet))


def drain_page(db: Session, job: Job, log: JobLog, record: str = "", hours: str = "", entered: Entered = NOTHING) -> DrainPage:
    """Gather the page; `record` is the id of a capture, or "typed"."""
    work = drain_work(job, log)
    rows = tuple(r for r in captures.captures_of(db, job) if r.status == "ready" and r.facts.get("stairs"))
    card = battery_page(job, log).card
    charge, share = card.charge_left, card.share_left
    read, combined = None, None
    try:
        read = _read(work, rows, record, charge, share)
        if hours.strip():
            draw = work.level_a or (work.present.amps.best if work.present and work.present.amps else work.usual_a)
            combined = judge_together(work.sheet, draw, work.usual_a, charge, share, parse_hours(hours), job.temp_degc)
    except IronProbeError as error:
        entered = Entered(at="hours" if read or not record else "record", wrong=str(error))
    marks = [(m.at.timestamp(), MARKED[m.line.what]) for m in work.marks if m.line.what != "latched"]
    points = [(e.at.timestamp(), e.amps.best) for e in work.totals if e.amps]
    awake = sum(c.awake_a for c in work.tree.consumers if c.why is Draws.NO_SLEEP)
    return DrainPage(
        work=work, watch=watch(points, marks, work.limit.limit_a), ways=ways_in(work.sheet, awake, work.settings.ground_cables),
        records=rows, read=read, hours=hours, combined=combined, card=card, entered=entered,
    )  # fmt: skip


def _read(work: DrainWork, rows: tuple[Capture, ...], record: str, charge: float, share: float) -> Read | None:
    """The record asked for, else the newest capture; None when there is none."""
    row = next((r for r in rows if str(r.id) == record), rows[0] if rows and record != "typed" else None)
    if row is not None:
        stairs = STAIRS.validate_python(row.facts["stairs"])
    elif len(work.totals) >= 4 or record == "typed":
        points = [(e.at.timestamp(), e.amps.best) for e in work.totals if e.amps]
        if len({t for t, _ in points}) < 4:
            raise CaptureError("Four totals at four moments make a record of going to sleep: read on.")
        moments = dict(points)
        stairs = find_steps(*even_record(list(moments), list(moments.values())))
    else:
        return None
    sleep = sleep_of(stairs, work.limit.limit_a, work.tree, {t.where: t.amps.best for t in work.taken if t.where in work.tree.behind})
    days = endurance(work.sheet, max(sleep.mean_a, 1e-4), charge, share, work.job.temp_degc).hours / 24
    normal = [work.tree.element(t.where).title for t in work.taken if t.where in work.tree.behind and t.amps.high < work.limit.limit_a]
    return Read(row=row, sleep=sleep, days_to_no_start=days, ended=not_reproduced(sleep, work.limit.limit_a, days, normal))


def _shown(request: Request, page: DrainPage, status: int = 200) -> Response:
    name = "drain/_drain_now.html" if request.headers.get("HX-Target") == "drain-now" else "drain/drain.html"
    context = {
        "page": page, "schools": LIMIT_REASON, "methods": METHOD_REASON, "steps": METER_STEPS_V, "within": EXPLAINS_WITHIN, "samples": SLEEP_SAMPLES,
        "way": Way, "total": TOTAL,
    }  # fmt: skip
    return templates.TemplateResponse(request, name, context, status_code=status)


@router.get("/jobs/{number}/drain")
def watch_it(request: Request, job: CurrentJob, db: Db, record: str = "", hours: str = "", corrects: str = "") -> Response:
    """The drain watch, a total of it to be corrected; the part that changes by itself is asked for again while the page is open."""
    log = drain_log(db, job)
    return _shown(request, drain_page(db, job, log, record, hours, correcting_drain(log, corrects)))


@router.post("/jobs/{number}/drain/totals")
def log_total(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """The total now, by clamp or series meter."""
    log = drain_log(db, job)
    try:
        quantity = parse_bare(field(form, "value"), "mA", "A")
        way = Way.SERIES if field(form, "way") == Way.SERIES else Way.CLAMP
        line = DrainLine(
            where=TOTAL, way=way, typed=field(form, "value"), value=quantity.value, resolution=quantity.resolution,
            part_of=bool(field(form, "part_of")), read_at=read_at(form), corrects=corrected(form, log), meter=by_meter(form),
        )  # fmt: skip
        ask_first(form, doubt_of_sleep(quantity.value), words.amps_finely(quantity.value))
        append(db, job, whoever(), line, entry_id=entry_id(form))
    except IronProbeError as error:
        return _shown(request, drain_page(db, job, log, entered=Entered.refused(form, error, "total")), 422)
    return back_to(job, field(form, "back") or "/drain")


@router.post("/jobs/{number}/drain/marks")
def log_mark(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """A latch seen to, locked, a door opened, a load switched on on purpose or off again."""
    log = drain_log(db, job)
    what, text = field(form, "what"), field(form, "text")[:80]
    try:
        if what not in MARKED:
            raise ReadingError(f"“{what[:20]}” is no mark: there are {', '.join(MARKED)}.")
        amps = abs(parse_bare(field(form, "amps"), "mA", "A").value) if what == "booked" else 0.0
        said = {
            "what": what,
            "text": text,
            "amps": amps,
            "ago_minutes": 60 * parse_hours(field(form, "ago")) if field(form, "ago") else 0.0,
        }
        append(db, job, whoever(), MarkLine.model_validate(said), entry_id=entry_id(form))
    except IronProbeError as error:
        return _shown(request, drain_page(db, job, log, entered=Entered.refused(form, error, "mark")), 422)
    if what in ("locked", "opened"):
        work = drain_work(job, drain_log(db, job))
        if work.until is not None:
            append(
                db,
                job,
                whoever(),
                WaitLine(text="falls asleep: read the total", until=work.until),
                entry_id=UUID(int=entry_id(form).int ^ 1),
            )
    return back_to(job, field(form, "back") or "/drain")


@router.post("/jobs/{number}/drain/settings")
def change_settings(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Whose limit counts, how to sweep, how many ground cables, the meter's last digit."""
    kept: dict[str, object] = {}
    if field(form, "school") in set(LimitSchool):
        kept["school"] = field(form, "school")
    if field(form, "method") in set(Method):
        kept["method"] = field(form, "method")
    if field(form, "ground_cables") in ("1", "2", "3"):
        kept["ground_cables"] = int(field(form, "ground_cables"))
    steps = {f"{s:g}": s for s in METER_STEPS_V}
    if field(form, "meter_step_v") in steps:
        kept["meter_step_v"] = steps[field(form, "meter_step_v")]
    change_job(db, job, set_drain(**kept))
    return back_to(job, field(form, "back") or "/drain")
