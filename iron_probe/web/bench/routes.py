"""The Bench: the feed map to work on, the reading field, and what each reading says."""

from uuid import UUID

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse
from pydantic import ValidationError
from sqlmodel import Session
from starlette.datastructures import FormData

from iron_probe.core.bench.allowance import School
from iron_probe.core.bench.battery.guard import NotCondemned
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.elements import Battery
from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.evidence import AROUND, LARGEST_OF, UNIT, Instrument, Reading, check_reading, shows_figure, word_meant
from iron_probe.core.diagnose.fault_modes import TAG_FACTOR
from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import TECHNICIAN, Job
from iron_probe.core.job.lines import AnyLine, CondemnLine, KnownLine, ReadingLine, WithdrawLine
from iron_probe.core.job.numbering import numbered
from iron_probe.web.battery.page import battery_page
from iron_probe.web.bench.drawing import chosen, dimension_of, polyline
from iron_probe.web.bench.page import Typed, bench_page, probe_part
from iron_probe.web.bench.suspect_card import suspect_card
from iron_probe.web.page import CurrentJob, Db, Form, entry_id, field, is_fragment, templates
from iron_probe.web.screen import Screen
from iron_probe.work.guide_work import scope_of
from iron_probe.work.jobs import change_job, set_on
from iron_probe.work.logs import append, job_log
from iron_probe.work.verdicts import ready_or_why, verdicts

router = APIRouter()
templates.env.globals.update(chosen=chosen, dimension_of=dimension_of, polyline=polyline)
SCREEN = Screen(name="bench", path="", title="Bench")


@router.get("/jobs/{number}")
def bench(
    request: Request, job: CurrentJob, db: Db, red: str = "", black: str = "", branch: str = "", state: str = "", instrument: str = "",
    itself: str = "", corrects: str = "",
) -> Response:  # fmt: skip
    """The bench of a job; leads, state and instrument may be named in the address, or a reading to correct."""
    log = job_log(db, job)
    typed = Typed(red=red, black=black, branch=branch, state=state, instrument=instrument, itself=itself)
    old = next((r for r in log.readings if str(r.id) == corrects and r.counts and not r.screen), None) if corrects else None
    if old is not None:
        typed = Typed.correcting(old)
    page = bench_page(job, log, typed)
    return templates.TemplateResponse(request, "bench/bench.html", {"page": page})


@router.get("/jobs/{number}/probe")
def probe(
    request: Request, job: CurrentJob, db: Db, red: str = "", black: str = "", branch: str = "", state: str = "", instrument: str = "",
    itself: str = "",
) -> Response:  # fmt: skip
    """What a good machine reads between two points: the part beside the field, for a tap on the map."""
    typed = Typed(red=red, black=black, branch=branch, state=state, instrument=instrument, itself=itself)
    log = job_log(db, job)
    scope = scope_of(job, log)
    engine = ready_or_why(job, scope)[0]
    part = probe_part(job, typed, verdicts(job, log, engine) if engine else None, scope)
    return templates.TemplateResponse(request, "bench/_probe.html", {"probe": part, "sheet": job.sheet})


def _amps(form: Form) -> float | None:
    text = field(form, "amps")
    return abs(parse_quantity(text, "A").value) if text else None


def read_form(job: Job, form: FormData) -> ReadingLine:
    """The reading a form holds, its crank not yet numbered; raises ReadingError with a clear word."""
    sheet = job.sheet
    try:
        instrument = Instrument(field(form, "instrument") or Instrument.VOLTMETER.value)
    except ValueError as error:
        raise ReadingError(f"“{field(form, 'instrument')[:40]}” is not an instrument known here.") from error
    state = field(form, "state")
    sheet.state(state)
    taken: dict[str, object] = {
        "instrument": instrument,
        "state": state,
        "disturbed": bool(field(form, "disturbed")),
        "told": bool(field(form, "told")),
        "unsteady": True if field(form, "unsteady") else None,
        "heard": _heard(job, form),
        "aided": field(form, "aided") or None,
        "parted": field(form, "parted") or None,
        "jumpered": _jumpered(form),
    }
    if shows_figure(instrument, field(form, "value")):
        quantity = parse_quantity(field(form, "value"), UNIT.get(instrument, "V"), LARGEST_OF.get(instrument))
        taken |= {"value": quantity.value, "resolution": quantity.resolution, "bound": quantity.bound, "amps": _amps(form)}
    else:
        taken["word"] = word_meant(instrument, field(form, "word"))
    if instrument in AROUND:
        taken["branch"] = field(form, "branch")
    elif instrument is not Instrument.EYES:
        taken |= {"red": field(form, "red") or None, "black": field(form, "black") or None}
        if instrument is Instrument.VOLTMETER and field(form, "itself"):
            taken["branch"] = field(form, "itself")
    try:
        reading = Reading.model_validate(taken)
    except ValidationError as error:
        text = error.errors()[0]["msg"].removeprefix("Value error, ")
        raise ReadingError(f"{text[0].upper()}{text[1:]}. Nothing was logged; what you typed is still here.") from error
    check_reading(reading, network_of(sheet))
    return ReadingLine(reading=reading, typed=field(form, "value") or field(form, "word"), corrects=corrected(form))


def _jumpered(form: FormData) -> tuple[str, str] | None:
    """The two points a jumper was left across; None for none, ReadingError where one is missing."""
    start, end = field(form, "jumper_from"), field(form, "jumper_to")
    if bool(start) != bool(end) or (start and start == end):
        raise ReadingError(
            "A jumper was left across two points: choose both, or neither. Nothing was logged; what you typed is still here."
        )
    return (start, end) if start else None


def _heard(job: Job, form: FormData) -> str | None:
    """What the machine did in the crank a reading was taken in; nothing where it is no crank, or its own word says it."""
    counts = job.sheet.state(field(form, "state")).cranking and field(form, "instrument") != Instrument.EYES
    return field(form, "heard") or None if counts else None


def corrected(form: FormData) -> UUID | None:
    """The reading a form corrects, if it names one."""
    named = field(form, "corrects")
    try:
        return UUID(named) if named else None
    except ValueError as error:
        raise ReadingError("The reading to correct is not one of this job's. Log this as a new reading.") from error


def log_reading_of(session: Session, job: Job, form: FormData) -> JobLog:
    """Log the reading a form holds, and give the log as it then stands; raises IronProbeError when it cannot be taken."""
    same = bool(field(form, "same_crank"))

    def settle(line: AnyLine, log: JobLog) -> AnyLine:
        assert isinstance(line, ReadingLine)
        return numbered(line, log, job.sheet, same_crank=same)

    return append(session, job, TECHNICIAN, read_form(job, form), entry_id=entry_id(form), settle=settle)


@router.post("/jobs/{number}/readings")
def log_reading(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Log a reading, or say beside the field why it cannot be."""
    try:
        log = log_reading_of(db, job, form)
    except IronProbeError as error:
        page = bench_page(job, job_log(db, job), Typed.of(form), wrong=str(error))
        name = "bench/_bench.html" if is_fragment(request) else "bench/bench.html"
        return templates.TemplateResponse(request, name, {"page": page}, status_code=422)
    return _again(request, job, log)


@router.post("/jobs/{number}/undo")
def undo(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Withdraw the newest line that counts, or the one named."""
    log = job_log(db, job)
    named = field(form, "entry")
    target = next((r.id for r in log.readings if str(r.id) == named and not r.withdrawn), None) if named else log.last
    if target is not None:
        log = append(db, job, TECHNICIAN, WithdrawLine(entry=target), entry_id=entry_id(form))
    return _again(request, job, log)


@router.post("/jobs/{number}/redo")
def redo(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Give back what the last undo took."""
    log = job_log(db, job)
    if log.redo is not None:
        log = append(db, job, TECHNICIAN, WithdrawLine(entry=log.redo), entry_id=entry_id(form))
    return _again(request, job, log)


@router.post("/jobs/{number}/school")
def choose_school(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Change whose limits count, or whose order of work."""
    change: dict[str, str] = {}
    if field(form, "school") in {s.value for s in School}:
        change["school"] = field(form, "school")
    if field(form, "method") in {o.value for o in Order}:
        change["method"] = field(form, "method")
    changed = change_job(db, job, set_on(**change))
    return _again(request, changed, job_log(db, changed))


@router.get("/jobs/{number}/suspects")
def suspects(request: Request, job: CurrentJob, db: Db) -> Response:
    """The engine's parts of the page, asked for again until the ensemble is ready; the field and what is typed in it stay."""
    page = bench_page(job, job_log(db, job), Typed())
    return templates.TemplateResponse(request, "bench/_weighed.html", {"page": page, "oob": True})


@router.get("/jobs/{number}/suspects/{element}")
def suspect(request: Request, job: CurrentJob, db: Db, element: str, work: Scope = Scope.STARTING) -> Response:
    """One suspect: predicted against read for each reading, and what may be said of it."""
    card = suspect_card(job, job_log(db, job), element, work)
    return templates.TemplateResponse(
        request, "bench/_suspect.html" if is_fragment(request) else "bench/suspect.html", {"card": card, "job": job}
    )


@router.post("/jobs/{number}/mark")
def mark(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Say what is known of an element: a tag that raises it, or that this machine does not have it."""
    element, said = field(form, "element"), field(form, "mark")
    job.sheet.element(element)
    if said not in (*TAG_FACTOR, "absent", ""):
        raise ReadingError(f"“{said[:20]}” is nothing that can be known of a part: {', '.join(TAG_FACTOR)}, absent, or nothing.")
    log = append(db, job, TECHNICIAN, KnownLine.model_validate({"element": element, "mark": said}), entry_id=entry_id(form))
    return _again(request, job, log)


@router.post("/jobs/{number}/condemn")
def condemn(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Mark a part bad; without its own test under load only with a reason, which the report quotes as unproven."""
    log = job_log(db, job)
    element, reason = field(form, "element"), field(form, "reason")[:1000]
    card = suspect_card(job, log, element, Scope.CHARGING if field(form, "work") == Scope.CHARGING.value else Scope.STARTING)
    why = battery_page(job, log, element).card.not_condemned if isinstance(card.element, Battery) else None
    if why is NotCondemned.WAS_FLAT:
        return templates.TemplateResponse(request, "bench/suspect.html", {"card": card, "job": job, "wrong": why}, status_code=422)
    if not card.proven and not reason:
        wrong = (
            "Not proven: no test of its own under load agrees yet. Make that test, or give the reason; the report will call it unproven."
        )
        return templates.TemplateResponse(request, "bench/suspect.html", {"card": card, "job": job, "wrong": wrong}, status_code=422)
    append(db, job, TECHNICIAN, CondemnLine(element=element, proven=card.proven, reason=reason), entry_id=entry_id(form))
    return RedirectResponse(f"/jobs/{job.number}/repair", status_code=303)


def _again(request: Request, job: Job, log: JobLog) -> Response:
    """The bench after a change: its part for htmx, a redirect for a plain form, so that reload posts nothing."""
    if not is_fragment(request):
        return RedirectResponse(f"/jobs/{job.number}", status_code=303)
    request.state.job = job
    return templates.TemplateResponse(request, "bench/_bench.html", {"page": bench_page(job, log, Typed()), "oob": True})
