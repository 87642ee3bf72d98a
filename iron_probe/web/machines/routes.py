"""Machines of the yard: brought in, looked at, their circuit edited as text and kept in versions."""

from typing import Annotated

from fastapi import APIRouter, Depends, HTTPException, Request, Response
from fastapi.responses import RedirectResponse
from sqlmodel import Session
from starlette.datastructures import FormData, UploadFile

from iron_probe.core.circuit.read_sheet import MOST_BYTES, MOST_ELEMENTS
from iron_probe.core.errors import Mistake, ReadingError, SheetError
from iron_probe.machines import load_sheet, sheet_ids, sheet_text
from iron_probe.store import queries
from iron_probe.store.doubles import merged_into
from iron_probe.store.tables import MachineRow
from iron_probe.web.machines.page import checked, difference, machine_page, read_machine
from iron_probe.web.page import CurrentJob, Db, Form, entry_id, field, templates
from iron_probe.web.who import whoever
from iron_probe.work.doubles import merge, take_apart
from iron_probe.work.machines import bring_in, change_machine, new_version, retire, see, without

router = APIRouter()
LONGEST_SEARCH = 80


def machine_of_path(number: int, db: Db) -> MachineRow:
    """The machine of the path; 404 with a clear word when there is none."""
    machine = queries.find_machine(db, number)
    if machine is None:
        raise HTTPException(404, f"The yard has no machine {number}. Machines lists them all.")
    return machine


Machine = Annotated[MachineRow, Depends(machine_of_path)]


@router.get("/machines")
def listed(request: Request, db: Db, search: str = "", retired: bool = False) -> Response:
    """The machines of the yard, or those that left it, as far as they hold what is searched for."""
    search = search.replace("\x00", "").strip()[:LONGEST_SEARCH]
    context = {"machines": queries.machines(db, search, retired=retired), "search": search, "retired": retired}
    return templates.TemplateResponse(request, "machines/machines.html", context)


@router.get("/machines/of/{number}")
def of_job(job: CurrentJob, db: Db) -> Response:
    """The machine of a job, on the version the job is pinned to."""
    machine = db.get_one(MachineRow, job.pinned.machine_id)
    return RedirectResponse(f"/machines/{machine.number}?version={job.pinned.number}", status_code=307)


@router.get("/machines/new")
def new(request: Request, start: str = "") -> Response:
    """The form to bring a machine in with a sheet of one's own, or one begun from a shipped sheet."""
    text = sheet_text(start) if start in sheet_ids() else ""
    return _new_page(request, {"start": start, "text": text}, {}, [])


def _new_page(request: Request, said: dict[str, str], wrong: dict[str, str], mistakes: list[Mistake], status: int = 200) -> Response:
    context = {"said": said, "wrong": wrong, "mistakes": mistakes, "sheets": [load_sheet(i) for i in sheet_ids()]}
    return templates.TemplateResponse(request, "machines/new.html", context, status_code=status)


def _text_of(form: FormData) -> str:
    """The sheet a form holds: an uploaded file first, else what stands in its field."""
    file = form.get("file")
    if isinstance(file, UploadFile) and file.filename:
        return file.file.read(MOST_BYTES + 1).decode("utf-8-sig", errors="replace").replace("\r\n", "\n")
    value = form.get("text", "")
    return value.replace("\r\n", "\n") if isinstance(value, str) else ""


@router.post("/machines")
def bring(request: Request, db: Db, form: Form) -> Response:
    """Keep a machine with its first version; with mistakes beside their lines where the sheet has any."""
    machine, wrong = read_machine(form, entry_id(form))
    text = _text_of(form)
    mistakes = checked(text)[1]
    if wrong or mistakes:
        said = {k: v for k, v in form.items() if isinstance(v, str)} | {"text": text}
        return _new_page(request, said, wrong, mistakes, 422)
    row = bring_in(db, machine, text, field(form, "note")[:200] or "as brought in", whoever())
    return RedirectResponse(f"/machines/{row.number}", status_code=303)


@router.post("/machines/check")
def check(request: Request, form: Form) -> Response:
    """The mistakes of a sheet as it is typed."""
    sheet, mistakes = checked(_text_of(form))
    return templates.TemplateResponse(request, "machines/_mistakes.html", {"sheet": sheet, "mistakes": mistakes, "asked": True})


@router.get("/machines/{number}")
def show(request: Request, number: int, machine: Machine, db: Db, version: int = 0) -> Response:
    """A machine: its circuit drawn, what it showed over its jobs, boxes, versions; one that was merged leads to the other."""
    if machine.number != number:
        return RedirectResponse(f"/machines/{machine.number}", status_code=307)
    return _show(request, db, machine, version)


def _show(request: Request, db: Session, machine: MachineRow, version: int = 0, wrong: dict[str, str] | None = None) -> Response:
    page = machine_page(db, machine, request.app.state.screens, version)
    return templates.TemplateResponse(
        request, "machines/machine.html", {"page": page, "wrong": wrong or {}}, status_code=422 if wrong else 200
    )


@router.post("/machines/{number}")
def describe(request: Request, machine: Machine, db: Db, form: Form) -> Response:
    """Change what is known of a machine: name, plate, hours, the battery really fitted."""
    said, wrong = read_machine(form, machine.id)
    if wrong:
        return _show(request, db, machine, 0, wrong)
    change_machine(db, machine, said)
    return RedirectResponse(f"/machines/{machine.number}", status_code=303)


@router.post("/machines/{number}/seen")
def seen(machine: Machine, db: Db, form: Form) -> Response:
    """Keep that parts of the circuit which were only assumed are there on this machine."""
    parts = [e for e in form.getlist("element") if isinstance(e, str)][:MOST_ELEMENTS]
    if not parts:
        raise ReadingError("Nothing was seen: tick the parts that are on this machine, then press it again")
    see(db, machine, parts, whoever())
    return RedirectResponse(f"/machines/{machine.number}#assumed", status_code=303)


@router.post("/machines/{number}/struck")
def struck(machine: Machine, db: Db, form: Form) -> Response:
    """Strike out parts that this machine has not: its next version is without them."""
    parts = [e for e in form.getlist("element") if isinstance(e, str)][:MOST_ELEMENTS]
    if not parts:
        raise ReadingError("Nothing is struck out: tick the parts this machine has not, then press it again")
    try:
        kept = without(db, machine, parts, whoever())
    except SheetError as error:
        raise ReadingError(f"Struck out, the circuit would not hold together: {error}. Strike it out on the workbench") from error
    return RedirectResponse(f"/machines/{machine.number}?version={kept.number}#assumed", status_code=303)


@router.post("/machines/{number}/retire")
def leave(machine: Machine, db: Db, form: Form) -> Response:
    """A machine left the yard, or is back."""
    retire(db, machine, left=field(form, "left") == "1")
    return RedirectResponse(f"/machines/{machine.number}", status_code=303)


@router.post("/machines/{number}/merge")
def join(machine: Machine, db: Db, form: Form) -> Response:
    """A machine that stands in the books twice: the double's jobs and versions become this one's."""
    said = field(form, "double")
    double = queries.find_machine(db, int(said)) if said.isdecimal() else None
    if double is None or not field(form, "same"):
        raise ReadingError("Nothing was merged: choose the double, and tick that both are the same machine")
    merge(db, double, machine, whoever())
    return RedirectResponse(f"/machines/{machine.number}", status_code=303)


@router.post("/machines/{number}/apart")
def apart(machine: Machine, db: Db, form: Form) -> Response:
    """A double that was none after all: a machine of its own again, with what it came with."""
    double = next((d for d in merged_into(db, machine.id) if str(d.number) == field(form, "double")), None)
    if double is None:
        raise ReadingError("Nothing was taken apart: no such machine went into this one; they stand on its page")
    take_apart(db, double, machine)
    return RedirectResponse(f"/machines/{double.number}", status_code=303)


@router.get("/machines/{number}/sheet")
def edit(request: Request, machine: Machine, db: Db, version: int = 0) -> Response:
    """The circuit as text, to be edited."""
    base, newest = queries.version_or_newest(db, machine.id, version), queries.newest_version(db, machine.id)
    return _editor(request, machine, base.text, newest.number, [])


def _editor(
    request: Request, machine: MachineRow, text: str, base: int, mistakes: list[Mistake], wrong: str = "", note: str = "", status: int = 200
) -> Response:
    context = {"machine": machine, "text": text, "base": base, "mistakes": mistakes, "wrong": wrong, "note": note}
    return templates.TemplateResponse(request, "machines/sheet.html", context, status_code=status)


@router.post("/machines/{number}/sheet")
def keep(request: Request, machine: Machine, db: Db, form: Form) -> Response:
    """Keep an edited circuit as the next version; refused, with everything typed kept, where someone else was faster."""
    text, note, base = _text_of(form), field(form, "note")[:200], field(form, "base")
    newest = queries.newest_version(db, machine.id)
    mistakes = checked(text)[1]
    if mistakes:
        return _editor(request, machine, text, int(base) if base.isdecimal() else newest.number, mistakes, note=note, status=422)
    if base != str(newest.number) and text != newest.text:
        wrong = (
            f"Version {newest.number} was kept meanwhile{' (' + newest.note + ')' if newest.note else ''}. Yours is still here: "
            "look at the difference below the text, take over what is right, and save again."
        )
        return _editor(request, machine, text, newest.number, [], wrong, note, 409)
    kept = new_version(db, machine, text, note, whoever())
    return RedirectResponse(f"/machines/{machine.number}?version={kept.number}", status_code=303)


@router.get("/machines/{number}/difference")
def compare(request: Request, machine: Machine, db: Db, before: int = 0, after: int = 0) -> Response:
    """What changed from one version to another; from the one before to the newest where none is named."""
    versions = {v.number: v for v in queries.versions_of(db, machine.id)}
    newest = max(versions)
    b = versions.get(after) or versions[newest]
    a = versions.get(before) or versions.get(b.number - 1) or b
    context = {"machine": machine, "before": a, "after": b, "lines": difference(a.text, b.text), "versions": versions}
    return templates.TemplateResponse(request, "machines/difference.html", context)
