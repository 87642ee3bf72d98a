"""Taking a machine in, changing what was said then, moving a job to another circuit or machine."""

from uuid import UUID, uuid5

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse
from sqlmodel import Session
from starlette.datastructures import FormData

from iron_probe.core.bench.allowance import School
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import Job
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.store import queries
from iron_probe.store.tables import MachineRow
from iron_probe.web.language import N_
from iron_probe.web.local_units import degrees, degrees_typed, read_degrees
from iron_probe.web.page import AnyJob, CurrentJob, Db, Form, entry_id, field, templates
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.web.words import COMPLAINT
from iron_probe.work.guide_work import begins_on
from iron_probe.work.jobs import INTAKE, TakeIn, change_job, delete_job, pin, set_on, take_in
from iron_probe.work.machines import NewMachine, copy_of_shipped

router = APIRouter()
SCREEN = Screen(name="intake", path="/intake", title=N_("Intake"), aside=True)

LONGEST, LONGEST_NAME = 12_000, 80
COLDEST_DEGC, HOTTEST_DEGC = -40.0, 60.0
TEXTS = ("complaint", "circumstances", "changed_before", "replaced_before")
_MACHINES = UUID("0d2f3a5e-3c0f-4f43-8f0c-b6a3f0d5a9c1")


def _checked(form: FormData) -> tuple[dict[str, object], dict[str, str]]:
    """What a form says of a job, and a word for each field that cannot be taken."""
    said: dict[str, object] = {name: field(form, name) for name in ("symptom", "school", *TEXTS)}
    wrong: dict[str, str] = {}
    for name in TEXTS:
        if len(str(said[name])) > LONGEST:
            wrong[name] = f"{len(str(said[name])):,} characters; at most {LONGEST:,} fit here. Shorten it; nothing was lost."
    if said["symptom"] not in COMPLAINT and said["symptom"] != "":
        wrong["symptom"] = "Choose one of the symptoms listed."
    if said["school"] not in {s.value for s in School}:
        wrong["school"] = "Choose one of the schools listed."
    for name, label in (("temp_degc", "Temperature now"), ("cold_degc", "Coldest start")):
        said[name] = field(form, name)
        try:
            value = read_degrees(field(form, name))
            if not COLDEST_DEGC <= value <= HOTTEST_DEGC:
                raise ValueError
            said[name] = value
        except ValueError:
            wrong[name] = (
                f"{label} is from {degrees(COLDEST_DEGC)} to {degrees(HOTTEST_DEGC)}: a number such as {degrees_typed(15)} or {degrees_typed(-10)}."
            )
    return said, wrong


def _machine_said(db: Session, form: FormData) -> tuple[dict[str, str], dict[str, str], MachineRow | None]:
    """Which machine a form takes in: one of the yard, or a new one by name that starts from a shipped sheet."""
    said = {"machine_no": field(form, "machine_no"), "sheet_id": field(form, "sheet_id"), "machine": field(form, "machine")}
    wrong: dict[str, str] = {}
    known = queries.find_machine(db, int(said["machine_no"])) if said["machine_no"].isdecimal() else None
    if said["machine_no"] and known is None:
        wrong["machine_no"] = "The yard has no machine of that number: choose one from the list, or start a new one below."
    elif known is None:
        if said["sheet_id"] not in sheet_ids():
            wrong["sheet_id"] = "Choose the machine if the yard has it already, or the circuit sheet that comes nearest to start from."
        if not said["machine"]:
            wrong["machine"] = "Give the machine a name or number you will know it by, such as “Bus 4”."
        elif len(said["machine"]) > LONGEST_NAME:
            wrong["machine"] = f"{len(said['machine']):,} characters; at most {LONGEST_NAME} fit here. Shorten it; nothing was lost."
    return said, wrong, known


def _page(request: Request, db: Session, said: dict[str, object], wrong: dict[str, str], job: Job | None = None) -> Response:
    context = {
        "said": said,
        "wrong": wrong,
        "job": job,
        "machines": queries.machines(db),
        "versions": queries.versions_of(db, job.pinned.machine_id) if job else (),
        "sheets": [load_sheet(i) for i in sheet_ids()],
        "schools": School,
    }
    return templates.TemplateResponse(request, "intake/intake.html", context, status_code=422 if wrong else 200)


@router.get("/jobs/new")
def new_job(request: Request, db: Db, sheet: str = "", machine: str = "") -> Response:
    """An empty intake form; a machine of the yard or a shipped sheet may be named in the address."""
    said: dict[str, object] = {
        "sheet_id": sheet, "machine_no": machine if machine.isdecimal() else "", "school": School.COMMON.value, "temp_degc": 20, "cold_degc": -10,
    }  # fmt: skip
    return _page(request, db, said, {})


@router.post("/jobs")
def take_in_job(request: Request, db: Db, form: Form) -> Response:
    """Keep a new job, with its machine where it is new, and go to the page it is worked on."""
    said, wrong = _checked(form)
    which, wrong_which, machine = _machine_said(db, form)
    if wrong or wrong_which:
        return _page(request, db, {**said, **which}, {**wrong, **wrong_which})
    job_id = entry_id(form)
    if machine is None:
        fresh = NewMachine(id=uuid5(_MACHINES, str(job_id)), name=which["machine"])
        machine = copy_of_shipped(db, fresh, which["sheet_id"], whoever())
    job = take_in(db, TakeIn(job_id, said), machine)
    return RedirectResponse(f"/jobs/{job.number}{begins_on(job)}", status_code=303)


@router.get("/jobs/{number}/intake")
def edit_job(request: Request, job: CurrentJob, db: Db) -> Response:
    """The intake form of a job, to be changed."""
    return _page(request, db, {name: getattr(job, name) for name in INTAKE}, {}, job)


@router.post("/jobs/{number}/intake")
def change(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Keep changed intake answers."""
    said, wrong = _checked(form)
    if wrong:
        return _page(request, db, said, wrong, job)
    change_job(db, job, set_on(**said))
    return RedirectResponse(f"/jobs/{job.number}", status_code=303)


@router.post("/jobs/{number}/circuit")
def move(job: CurrentJob, db: Db, form: Form) -> Response:
    """Move the job to another version of its machine's circuit, or to another machine that it really is."""
    machine, version = field(form, "machine_no"), field(form, "version")
    if machine:
        known = queries.find_machine(db, int(machine)) if machine.isdecimal() else None
        if known is None:
            raise ReadingError("The yard has no machine of that number: choose one from the list")
        pin(db, job, queries.newest_version(db, known.id))
    else:
        found = next((v for v in queries.versions_of(db, job.pinned.machine_id) if str(v.number) == version), None)
        if found is None:
            raise ReadingError(
                f"{job.machine} has no version {version[:12] or 'without a number'} of its circuit: choose one from the list"
            )
        pin(db, job, found)
    return RedirectResponse(f"/jobs/{job.number}", status_code=303)


@router.post("/jobs/{number}/delete")
def delete(job: AnyJob, db: Db, form: Form) -> Response:
    """Take a job out of the yard; its log stays in the database, and the yard can bring it back."""
    if job.deleted_at is None:
        delete_job(db, job)
    return RedirectResponse(f"/?deleted={job.number}", status_code=303)
