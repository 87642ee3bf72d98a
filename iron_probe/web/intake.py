"""Taking a machine in, and changing what was said then."""

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from iron_probe.core.bench.allowance import School
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.store import queries
from iron_probe.store.tables import Job, now
from iron_probe.web.page import CurrentJob, Db, Form, entry_id, field, templates
from iron_probe.web.words import COMPLAINT, ELSEWHERE

router = APIRouter()

LONGEST = 12_000
SHORTEST_DEGC, HOTTEST_DEGC = -40.0, 60.0
TEXTS = ("complaint", "circumstances", "changed_before", "replaced_before")


def _checked(form: Form) -> tuple[dict[str, object], dict[str, str]]:
    """What a form says of a job, and a word for each field that cannot be taken."""
    said: dict[str, object] = {name: field(form, name) for name in ("sheet_id", "machine", "symptom", "school", *TEXTS)}
    wrong: dict[str, str] = {}
    if said["sheet_id"] not in sheet_ids():
        wrong["sheet_id"] = "Choose the circuit sheet that fits the machine."
    if not said["machine"]:
        wrong["machine"] = "Give the machine a name or number you will know it by, such as “Bus 4”."
    for name in ("machine", *TEXTS):
        limit = 80 if name == "machine" else LONGEST
        if len(str(said[name])) > limit:
            wrong[name] = f"{len(str(said[name])):,} characters; at most {limit:,} fit here. Shorten it; nothing was lost."
    if said["symptom"] not in COMPLAINT and said["symptom"] != "":
        wrong["symptom"] = "Choose one of the symptoms listed."
    if said["school"] not in {s.value for s in School}:
        wrong["school"] = "Choose one of the schools listed."
    for name, label in (("temp_degc", "Temperature now"), ("cold_degc", "Coldest start")):
        typed = field(form, name).replace(",", ".").replace("−", "-").removesuffix("°C").strip()
        said[name] = field(form, name)
        try:
            value = float(typed)
            if not SHORTEST_DEGC <= value <= HOTTEST_DEGC:
                raise ValueError
            said[name] = value
        except ValueError:
            wrong[name] = f"{label} is a number of °C from {SHORTEST_DEGC:.0f} to {HOTTEST_DEGC:.0f}, such as 15 or -10."
    return said, wrong


def _page(request: Request, said: dict[str, object], wrong: dict[str, str], job: Job | None = None) -> Response:
    context = {
        "said": said,
        "wrong": wrong,
        "job": job,
        "sheets": [load_sheet(i) for i in sheet_ids()],
        "schools": School,
    }
    return templates.TemplateResponse(request, "intake.html", context, status_code=422 if wrong else 200)


@router.get("/jobs/new")
def new_job(request: Request, sheet: str = "") -> Response:
    """An empty intake form."""
    said: dict[str, object] = {"sheet_id": sheet, "school": School.COMMON.value, "temp_degc": 20, "cold_degc": -10}
    return _page(request, said, {})


@router.post("/jobs")
def take_in(request: Request, db: Db, form: Form) -> Response:
    """Keep a new job and go to the page it is worked on."""
    said, wrong = _checked(form)
    if wrong:
        return _page(request, said, wrong)
    job = queries.add_job(db, Job.model_validate({"id": entry_id(form), "number": 0, **said}))
    return RedirectResponse(f"/jobs/{job.number}{ELSEWHERE.get(job.symptom, ('', ''))[1]}", status_code=303)


@router.get("/jobs/{number}/intake")
def edit_job(request: Request, job: CurrentJob) -> Response:
    """The intake form of a job, to be changed."""
    return _page(request, job.model_dump(), {}, job)


@router.post("/jobs/{number}/intake")
def change_job(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Keep changed intake answers."""
    said, wrong = _checked(form)
    if wrong:
        return _page(request, said, wrong, job)
    for name, value in said.items():
        if name != "sheet_id":  # the sheet is what the readings' points are named on
            setattr(job, name, value)
    queries.save_job(db, job)
    return RedirectResponse(f"/jobs/{job.number}", status_code=303)


@router.post("/jobs/{number}/delete")
def delete_job(job: CurrentJob, db: Db, form: Form) -> Response:
    """Take a job out of the yard; its log stays in the database."""
    job.deleted_at = now()
    queries.save_job(db, job)
    return RedirectResponse("/", status_code=303)
