"""The Bench: the feed map to work on, the reading field, and what each reading says."""

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse
from sqlmodel import Session

from iron_probe.core.bench.allowance import School
from iron_probe.core.bench.battery.guard import NotCondemned
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Battery
from iron_probe.core.diagnose.fault_modes import TAG_FACTOR
from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import CondemnLine, KnownLine, WithdrawLine
from iron_probe.web.battery.page import battery_page
from iron_probe.web.bench.drawing import chosen, dimension_of, polyline
from iron_probe.web.bench.leads import probe_part
from iron_probe.web.bench.page import bench_page
from iron_probe.web.bench.suspect_card import suspect_card
from iron_probe.web.bench.typed import Typed
from iron_probe.web.entry import Entered, to_correct
from iron_probe.web.language import N_
from iron_probe.web.page import CurrentJob, Db, Form, back_to, entry_id, field, is_fragment, templates
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.work.guide_work import scope_of
from iron_probe.work.jobs import change_job, go_by_experience, set_on
from iron_probe.work.logs import append, job_log
from iron_probe.work.verdicts import ready_or_why, verdicts

router = APIRouter()
templates.env.globals.update(chosen=chosen, dimension_of=dimension_of, polyline=polyline)
SCREEN = Screen(name="bench", path="", title=N_("Bench"))


@router.get("/jobs/{number}")
def bench(
    request: Request, job: CurrentJob, db: Db, red: str = "", black: str = "", branch: str = "", state: str = "", instrument: str = "",
    itself: str = "", corrects: str = "", view: str = "", open: str = "", volts: str = "",
) -> Response:  # fmt: skip
    """The bench of a job; leads, state and instrument, and how its map is folded, may be named in the address, or a reading to correct."""
    log = job_log(db, job)
    typed = Typed(red=red, black=black, branch=branch, state=state, instrument=instrument, itself=itself, open=open, volts=volts)
    if old := to_correct(log, corrects):
        typed = Typed.correcting(old)
    page = bench_page(job, log, typed, view=view)
    return templates.TemplateResponse(request, "bench/bench.html", {"page": page})


@router.get("/jobs/{number}/map")
def feed_map(
    request: Request, job: CurrentJob, db: Db, red: str = "", black: str = "", state: str = "", open: str = "", volts: str = ""
) -> Response:
    """The map alone, folded otherwise or with what its points should show: for a tap on it. What is typed beside it stays."""
    page = bench_page(job, job_log(db, job), Typed(red=red, black=black, state=state, open=open, volts=volts))
    return templates.TemplateResponse(request, "bench/_map.html", {"page": page})


@router.get("/jobs/{number}/good")
def good_figures(job: CurrentJob) -> dict[str, dict[str, float | None]]:
    """Volts of every point against battery minus on a sound machine, by state; none where a point hangs free. What a device keeps to advise with while it
    has no link."""
    found: dict[str, dict[str, float | None]] = {}
    for state in job.sheet.states:
        solved = good_machine(job.sheet, state, job.conditions).solution
        found[state] = {
            p: None if solved.floating(p)[0] else round(float(solved.volts[n, 0]), 3) for n, p in enumerate(solved.network.points)
        }
    return found


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


def refused(request: Request, job: Job, db: Session, form: Form, entered: Entered) -> Response:
    """The bench again with what could not be logged still in its field."""
    page = bench_page(job, job_log(db, job), Typed.of(form), entered)
    name = "bench/_bench.html" if is_fragment(request) else "bench/bench.html"
    return templates.TemplateResponse(request, name, {"page": page}, status_code=422)


@router.post("/jobs/{number}/undo")
def undo(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Withdraw the newest line that counts, or the one named, from whichever screen; one that stands no more is left as it is."""
    log = job_log(db, job)
    named = field(form, "entry")
    target = log.standing(named) if named else log.last
    if target is not None:
        log = append(db, job, whoever(), WithdrawLine(entry=target), entry_id=entry_id(form))
    return back_to(job, back) if (back := field(form, "back")) else again(request, job, log, form)


@router.post("/jobs/{number}/redo")
def redo(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Give back what the last undo took."""
    log = job_log(db, job)
    if log.redo is not None:
        log = append(db, job, whoever(), WithdrawLine(entry=log.redo), entry_id=entry_id(form))
    return again(request, job, log, form)


@router.post("/jobs/{number}/experience")
def go_by(job: CurrentJob, db: Db, form: Form) -> Response:
    """Have the yard's own experience count on this job, or not."""
    go_by_experience(db, job, on=field(form, "on") == "1")
    return back_to(job, "")


@router.post("/jobs/{number}/school")
def choose_school(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Change whose limits count, or whose order of work."""
    change: dict[str, str] = {}
    if field(form, "school") in {s.value for s in School}:
        change["school"] = field(form, "school")
    if field(form, "method") in {o.value for o in Order}:
        change["method"] = field(form, "method")
    changed = change_job(db, job, set_on(**change))
    return again(request, changed, job_log(db, changed), form)


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
    log = append(db, job, whoever(), KnownLine.model_validate({"element": element, "mark": said}), entry_id=entry_id(form))
    return again(request, job, log, form)


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
    append(db, job, whoever(), CondemnLine(element=element, proven=card.proven, reason=reason), entry_id=entry_id(form))
    return RedirectResponse(f"/jobs/{job.number}/repair", status_code=303)


def again(request: Request, job: Job, log: JobLog, form: Form) -> Response:
    """The bench after a change, its map folded as it was: its part for htmx, a redirect for a plain form, so that reload posts nothing."""
    if not is_fragment(request):
        return RedirectResponse(f"/jobs/{job.number}", status_code=303)
    request.state.job = job
    page = bench_page(job, log, Typed(open=field(form, "open"), volts=field(form, "volts")))
    return templates.TemplateResponse(request, "bench/_bench.html", {"page": page, "oob": True})
