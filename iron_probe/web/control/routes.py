"""The control side of a no-crank: interlock chain, relay pins, switch tables, module checks, codes noted by hand."""

from fastapi import APIRouter, Request, Response
from sqlmodel import Session

from iron_probe.core.bench.control.module_checks import LowLine, find_check, judge_check, reading_of
from iron_probe.core.circuit.elements import Module, Relay, Solenoid, Switch
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import IronProbeError, SolveError
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import CodeLine, TestLine
from iron_probe.web.control.page import control_page
from iron_probe.web.entry import Entered, corrected, correcting, correcting_test, read_at
from iron_probe.web.language import N_
from iron_probe.web.page import CurrentJob, Db, Form, back_to, entry_id, field, not_offered, templates
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.work.logs import append, job_log

router = APIRouter()


def no_control(sheet: Sheet) -> str:
    """Why a sheet has no control side."""
    commanded = any(isinstance(e, Switch | Relay | Module | Solenoid) for e in sheet.elements)
    return "" if commanded else "there is no switch, relay or module on this circuit."


SCREEN = Screen(name="control", path="/control", title=N_("Control side"), refuses=no_control)


@router.get("/jobs/{number}/control")
def control(request: Request, job: CurrentJob, db: Db, at: str = "", after: str = "", corrects: str = "") -> Response:
    """The control side at one of its parts and tests; a reading or check of it may be named to be corrected."""
    if no := not_offered(request, job, SCREEN):
        return no
    log = job_log(db, job)
    entered = correcting(log, corrects, at)
    page = control_page(job, log, at, after, entered if entered.at else correcting_test(log, "check", corrects, at))
    return templates.TemplateResponse(request, "control/control.html", {"page": page})


def refused(request: Request, job: Job, db: Session, form: Form, entered: Entered) -> Response:
    """The control side again with what could not be logged still in its field."""
    page = control_page(job, job_log(db, job), entered=entered)
    return templates.TemplateResponse(request, "control/control.html", {"page": page}, status_code=422)


@router.post("/jobs/{number}/control/checks")
def log_check(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """A module check, judged with its limit; feed and ground drops are readings on the circuit too."""
    sheet = job.sheet
    try:
        module = sheet.element(field(form, "module"))
        check = find_check(field(form, "check"))
        if not isinstance(module, Module if check.of == "module" else Relay):
            raise SolveError(f"{module.title} is no {check.of}")
        low = LowLine(field(form, "low_line")) if field(form, "low_line") in {s.value for s in LowLine} else LowLine.TWO
        value, _ = judge_check(check, field(form, "value"), float(sheet.system_v), low)
        reading = reading_of(check, module, sheet, value) if isinstance(module, Module) else None
        typed = {"value": field(form, "value"), "low_line": low.value}
        line = TestLine(
            screen="check",
            subject=module.id,
            test=check.id,
            typed=typed,
            readings=[reading] if reading else [],
            read_at=read_at(form),
            corrects=corrected(form, job_log(db, job)),
        )
        append(db, job, whoever(), line, entry_id=entry_id(form))
    except IronProbeError as error:
        return refused(request, job, db, form, Entered.refused(form, error))
    return back_to(job, f"/control?after={field(form, 'at')}#part")


@router.post("/jobs/{number}/control/codes")
def log_code(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Note a code by hand; it raises the parts it names and proves nothing."""
    code = field(form, "code")[:20].upper()
    known = {e.id for e in job.sheet.elements}
    elements = [e for e in form.getlist("elements") if isinstance(e, str) and e in known]
    if not code:
        error = SolveError("Enter the code as the tool shows it, with letter and digits.")
        return refused(request, job, db, form, Entered.refused(form, error))
    line = CodeLine(
        code=code, text=field(form, "text")[:200], module=field(form, "module")[:60], active=bool(field(form, "active")), elements=elements
    )
    append(db, job, whoever(), line, entry_id=entry_id(form))
    return back_to(job, "/control#codes")
