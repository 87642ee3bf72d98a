"""The workbench: a machine's circuit edited part by part, and what the evidence of a job asks to be drawn."""

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse

from iron_probe.core.compose.edits import feed, put_in
from iron_probe.core.compose.sheet_text import SheetText
from iron_probe.core.errors import ReadingError, SheetError
from iron_probe.store import queries
from iron_probe.store.tables import MachineRow
from iron_probe.web.machines.page import checked
from iron_probe.web.machines.routes import Machine
from iron_probe.web.page import CurrentJob, Db, Form, field, templates
from iron_probe.web.who import whoever
from iron_probe.web.workbench.import_page import SHOWN, ImportPage, import_page
from iron_probe.web.workbench.page import edited, workbench
from iron_probe.work.effect import effects
from iron_probe.work.jobs import pin
from iron_probe.work.machines import new_version

router = APIRouter()


@router.get("/machines/{number}/workbench")
def show(request: Request, machine: Machine, db: Db, version: int = 0) -> Response:
    """A version of the circuit as a list of its parts."""
    base, newest = queries.version_or_newest(db, machine.id, version), queries.newest_version(db, machine.id)
    return _page(request, machine, base.text, newest.number)


@router.post("/machines/{number}/workbench")
def edit(request: Request, machine: Machine, form: Form) -> Response:
    """The draft after one more edit; it stays as it was, with a word why, where the edit cannot be made."""
    text, refused = field(form, "text") + "\n", ""
    try:
        text = edited(form, text)
    except SheetError as error:
        refused = str(error)
    base = field(form, "base")
    return _page(request, machine, text, int(base) if base.isdecimal() else 0, refused, field(form, "part"))


@router.post("/machines/{number}/workbench/keep")
def keep(request: Request, machine: Machine, db: Db, form: Form) -> Response:
    """Keep the draft as the next version; refused, with the draft kept, where it has mistakes or someone else was faster."""
    text, note, base = field(form, "text") + "\n", field(form, "note")[:200], field(form, "base")
    newest = queries.newest_version(db, machine.id)
    if checked(text)[1]:
        return _page(request, machine, text, newest.number, "Not kept: what is wrong stands beside its part or above the list.", status=422)
    if base != str(newest.number) and text != newest.text:
        told = f"Version {newest.number} was kept meanwhile{' (' + newest.note + ')' if newest.note else ''}. Yours is still here: look at it, and keep again if yours should follow it."
        return _page(request, machine, text, newest.number, told, status=409)
    kept = new_version(db, machine, text, note, whoever())
    return RedirectResponse(f"/machines/{machine.number}?version={kept.number}", status_code=303)


@router.post("/machines/{number}/workbench/effect")
def effect(request: Request, machine: Machine, db: Db, form: Form) -> Response:
    """What the draft would do to the verdicts of the jobs in hand; asked again by the page while they are worked out."""
    sheet, mistakes = checked(field(form, "text") + "\n")
    found = effects(db, machine, sheet) if sheet else ()
    refused = "" if sheet else f"The draft has {len(mistakes)} mistake{'s' if len(mistakes) > 1 else ''}: mend them first."
    waiting = any(not e.why and (e.before is None or e.after is None) for e in found)
    context = {"machine": machine, "effects": found, "refused": refused, "waiting": waiting}
    return templates.TemplateResponse(request, "workbench/_effect.html", context)


@router.get("/machines/{number}/import")
def begin_import(request: Request, machine: Machine, db: Db) -> Response:
    """A table to be put on the circuit."""
    return _import_page(request, machine, ImportPage(points=SheetText(queries.newest_version(db, machine.id).text).titles))


@router.post("/machines/{number}/import")
def read_import(request: Request, machine: Machine, db: Db, form: Form) -> Response:
    """A table as it is understood, or put on a draft of the circuit."""
    newest = queries.newest_version(db, machine.id)
    page = import_page(form, newest.text, put=field(form, "do") == "put")
    if page.made:
        return _page(request, machine, page.made, newest.number, before=newest.text)
    return _import_page(request, machine, page)


def _import_page(request: Request, machine: MachineRow, page: ImportPage) -> Response:
    context = {"machine": machine, "page": page, "shown": SHOWN}
    return templates.TemplateResponse(request, "workbench/import.html", context, status_code=422 if page.mistakes else 200)


@router.post("/jobs/{number}/draw")
def draw(job: CurrentJob, db: Db, form: Form) -> Response:
    """What the evidence asks for is drawn: a joint beside a part, or a feed behind it, makes a new version of the machine's circuit, and the job
    moves to it."""
    machine = db.get_one(MachineRow, job.pinned.machine_id)
    newest, part, fed = queries.newest_version(db, machine.id), field(form, "part"), field(form, "what") == "feed"
    try:
        text = feed(newest.text, part) if fed else put_in(newest.text, part, "", "joint")
        drawn = f"a feed drawn behind {part}" if fed else f"a joint drawn beside {part}"
        kept = new_version(db, machine, text, f"{drawn}: what was read on job {job.number} asks for it", whoever())
    except SheetError as error:
        raise ReadingError(f"It cannot be drawn: {error}") from error
    pin(db, job, kept)
    return RedirectResponse(f"/jobs/{job.number}", status_code=303)


def _page(
    request: Request, machine: MachineRow, text: str, base: int, refused: str = "", picked: str = "", status: int = 200,
    *, before: str = "",
) -> Response:  # fmt: skip
    try:
        page = workbench(text, refused, picked)
    except SheetError as error:
        raise ReadingError(f"The draft is no circuit sheet any more: {error}. Mend it as text: /machines/{machine.number}/sheet") from error
    context = {"machine": machine, "page": page, "base": base, "before": before}
    return templates.TemplateResponse(
        request, "workbench/workbench.html", context, status_code=422 if refused and status == 200 else status
    )
