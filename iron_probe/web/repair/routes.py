"""Repair and retest: what was done, and the same probes again."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from iron_probe.core.bench.control.after_repair import Todo, todos
from iron_probe.core.bench.typed_value import parse_hours
from iron_probe.core.circuit.network import network_of
from iron_probe.core.draw.line_through import line_through
from iron_probe.core.errors import LogError, ReadingError
from iron_probe.core.job.lines import ClosedLine, Ending, RepairLine, TickLine
from iron_probe.store.tables import now
from iron_probe.web.language import N_
from iron_probe.web.page import CurrentJob, Db, Form, entry_id, field, templates
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.work.drop_work import Work, work_of
from iron_probe.work.guide_work import scope_of, word_on
from iron_probe.work.jobs import change_job, set_on
from iron_probe.work.logs import append, job_log
from iron_probe.work.photos import photos_of

router = APIRouter()
SCREEN = Screen(name="repair", path="/repair", title=N_("Repair & retest"))

LONGEST = 2000
MOST_OFFERED = 60
"""Readings a photo may be put to: the newest."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TodoShown:
    """A point of the after-repair list, ticked or not."""

    todo: Todo
    done: bool


def todo_list(work: Work) -> list[TodoShown]:
    """What the parts replaced so far ask for before closing, as ticked."""
    replaced = {e for r in work.log.repairs for e in r.elements}
    ticked = {line.item: line.done for _, line in work.log.lines(TickLine)}
    return [TodoShown(todo=t, done=ticked.get(t.id, False)) for t in todos([e for e in work.sheet.elements if e.id in replaced])]


@dataclass(frozen=True, slots=True, kw_only=True)
class Refused:
    """What a form of the page held that could not be taken, and why: the repair's words and parts, or the ending that was chosen."""

    wrong: str
    text: str = ""
    fitted: str = ""
    took: str = ""
    chosen: Sequence[str] | None = None
    ending: str = ""


def _page(request: Request, job: CurrentJob, db: Db, refused: Refused | None = None) -> Response:
    """The page, after a refusal with what was typed."""
    log = job_log(db, job)
    work = work_of(job, log)
    word = word_on(job, log)
    context = {
        "work": work,
        "job": job,
        "refused": refused or Refused(wrong=""),
        "now_word": word,
        "scope": scope_of(job, log),
        "photos": photos_of(db, job),
        "numbers": {r.id: r.number for r in log.readings},
        "at_readings": [r for r in log.readings if r.counts][-MOST_OFFERED:],
        "todos": todo_list(work),
        "line": line_through(network_of(job.sheet), word.at_fault) if word and word.at_fault else (),
    }
    return templates.TemplateResponse(request, "repair/repair.html", context, status_code=422 if refused else 200)


@router.get("/jobs/{number}/repair")
def repair(request: Request, job: CurrentJob, db: Db) -> Response:
    """Before and after, side by side, and the form for what was done."""
    return _page(request, job, db)


@router.post("/jobs/{number}/repairs")
def log_repair(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Record a repair; readings before it then belong to the machine as it was."""
    text, fitted, took = field(form, "text"), field(form, "fitted"), field(form, "took")
    known = {e.id for e in work_of(job, job_log(db, job)).sheet.elements}
    elements = list(dict.fromkeys(e for e in form.getlist("elements") if isinstance(e, str) and e in known))
    wrong = "" if text else "Say what was done, such as “cleaned and tightened the minus clamp”; the report will quote it."
    if max(len(text), len(fitted)) > LONGEST:
        wrong = f"{max(len(text), len(fitted)):,} characters; at most {LONGEST:,} fit here. Shorten it."
    typed = Refused(wrong=wrong, text=text, fitted=fitted, took=took, chosen=elements)
    if wrong:
        return _page(request, job, db, typed)
    try:
        minutes = round(60 * parse_hours(took)) if took else None
        append(db, job, whoever(), RepairLine(text=text, elements=elements, fitted=fitted, minutes=minutes), entry_id=entry_id(form))
    except (LogError, ReadingError) as error:
        return _page(request, job, db, replace(typed, wrong=str(error)))
    return RedirectResponse(f"/jobs/{job.number}/repair", status_code=303)


@router.post("/jobs/{number}/ticks")
def tick(job: CurrentJob, db: Db, form: Form) -> Response:
    """Tick a point of the after-repair list, or untick it."""
    known = {t.todo.id for t in todo_list(work_of(job, job_log(db, job)))}
    if field(form, "item") in known:
        append(db, job, whoever(), TickLine(item=field(form, "item"), done=field(form, "done") == "1"), entry_id=entry_id(form))
    return RedirectResponse(f"/jobs/{job.number}/repair#after", status_code=303)


@router.post("/jobs/{number}/close")
def close(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Close a job, or open it again; points of the after-repair list left open are ticked or waived first."""
    undone = [t for t in todo_list(work_of(job, job_log(db, job))) if not t.done]
    if not job.closed_at and undone and not field(form, "waive"):
        many = "s" if len(undone) > 1 else ""
        told = f"{len(undone)} point{many} of the after-repair list not ticked. Tick what is done, or close without and the report will say so."
        return _page(request, job, db, Refused(wrong=told, ending=field(form, "ending")))
    if not job.closed_at and field(form, "ending") in set(Ending):
        append(db, job, whoever(), ClosedLine(ending=Ending(field(form, "ending"))), entry_id=entry_id(form))
    change_job(db, job, set_on(closed_at=None if job.closed_at else now()))
    return RedirectResponse(f"/jobs/{job.number}/report", status_code=303)
