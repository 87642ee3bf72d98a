"""Captures of a job: upload, layout, the chart, and what a crank trace hands to the Bench."""

import hashlib
import zlib
from dataclasses import dataclass
from pathlib import Path
from urllib.parse import quote
from uuid import UUID, uuid4

import numpy as np
from fastapi import APIRouter, HTTPException, Request, Response
from fastapi.responses import JSONResponse, RedirectResponse
from pydantic import TypeAdapter, ValidationError
from sqlalchemy.exc import DBAPIError, IntegrityError
from starlette.datastructures import UploadFile

from iron_probe.core.arrays import Singles
from iron_probe.core.bench.cranking import CrankTrace, Hump, named_humps
from iron_probe.core.bench.drop_board import cranks
from iron_probe.core.bench.trace_readings import crank_readings
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import CaptureError, IronProbeError
from iron_probe.core.job.lines import TestLine
from iron_probe.core.trace.layout import CLAMP_SCALES, Layout, Preview, Role, guess_layout
from iron_probe.demo.drain_captures import RECORDS, RecordOf
from iron_probe.store import captures
from iron_probe.store.database import is_disk_full
from iron_probe.store.tables import Capture, now
from iron_probe.web.language import N_
from iron_probe.web.page import CurrentJob, Db, Form, entry_id, field, not_offered, templates
from iron_probe.web.screen import Screen
from iron_probe.web.who import whoever
from iron_probe.work.drain_work import tree_of
from iron_probe.work.fuse_work import CLAMP_ROUND, FuseWork, fuse_work
from iron_probe.work.logs import append, job_log
from iron_probe.work.uploads import has_room

router = APIRouter()


def no_crank(sheet: Sheet) -> str:
    """Why a sheet has no crank to trace."""
    return "" if cranks(sheet) else "this machine has no starter to crank."


SCREEN = Screen(name="crank", path="/captures", title=N_("Crank trace"), refuses=no_crank)
HEAD = 64 << 10
MOST_BYTES = 1 << 30
BLOCK = 1 << 20
"""Bytes of an uploaded file kept in one row."""
STATIC_CAPTURES = Path(__file__).parent.parent / "static" / "captures"
SAMPLES = sorted(p.name for p in STATIC_CAPTURES.glob("*.csv"))
"""Captures that ship with the app, made by its own simulator."""
SLEEP_SAMPLES = [name for name, record in RECORDS.items() if record.of is RecordOf.SLEEP]
TRIP_SAMPLES = [name for name, record in RECORDS.items() if record.of is RecordOf.TRIP]
CRANKS = [name for name in SAMPLES if name not in RECORDS]
"""Those of a crank; the others are records of a machine falling asleep and of a fuse blowing."""
TRACE = TypeAdapter(CrankTrace)


@dataclass(frozen=True, slots=True, kw_only=True)
class CapturePage:
    """A capture that was read: its row, layout, crank if there is one, and its humps by name."""

    job_number: int
    sheet: Sheet
    row: Capture
    layout: Layout
    trace: CrankTrace | None
    humps: tuple[Hump, ...]
    trigger: str
    order: str
    wrong: str
    logged: bool


def _capture(db: Db, job: CurrentJob, capture: UUID) -> Capture:
    row = captures.find_capture(db, job, capture)
    if row is None:
        raise HTTPException(404, f"Job {job.number} has no such capture. Its captures are listed under Crank trace.")
    return row


@router.get("/jobs/{number}/captures")
def listed(request: Request, job: CurrentJob, db: Db) -> Response:
    """The captures of a job, and the place to bring one in."""
    if refused := not_offered(request, job, SCREEN):
        return refused
    return _list(request, job, db)


def _list(request: Request, job: CurrentJob, db: Db, wrong: str = "") -> Response:
    context = {"job": job, "rows": captures.captures_of(db, job), "wrong": wrong, "samples": CRANKS, "sheet": job.sheet}
    return templates.TemplateResponse(request, "captures/captures.html", context, status_code=422 if wrong else 200)


@router.post("/jobs/{number}/captures")
def upload(request: Request, job: CurrentJob, db: Db, form: Form) -> Response:
    """Keep the file, guess its layout, and ask whether the guess is right."""
    file = form.get("file")
    if not isinstance(file, UploadFile) or not file.filename:
        return _list(request, job, db, "Choose a file first: CSV or text from a scope or logger, plain or gzip.")
    name = file.filename[:120].replace("\x00", "")
    try:
        digest, size = _measured(file)
        known = captures.same_upload(db, job, digest)
        if known is None and not has_room(request.app.state.folder, size):
            raise CaptureError(FULL)
        if known is None:
            known = _keep(db, job, file, name, digest, size)
    except CaptureError as error:
        db.rollback()
        return _list(request, job, db, f"{name[:80]}: {error}")
    except IntegrityError:  # the same file sent twice at the same moment
        db.rollback()
        known = captures.same_upload(db, job, digest)
        if known is None:
            raise
    return _to(job, known, field(form, "fuse"))


def _to(job: CurrentJob, row: Capture, fuse: str) -> Response:
    """To a capture; `fuse` is the fuse it is brought in for, if it is one of a blowing fuse."""
    return RedirectResponse(f"/jobs/{job.number}/captures/{row.id}" + (f"?fuse={quote(fuse[:60])}" if fuse else ""), status_code=303)


FULL = "the disk is nearly full, so the file was not kept. Free some space and upload it again; readings go on."


def _measured(file: UploadFile) -> tuple[str, int]:
    """What an uploaded file is known by, and its size; CaptureError when it is larger than can be taken."""
    size, digest = 0, hashlib.sha256()
    while piece := file.file.read(BLOCK):
        size += len(piece)
        if size > MOST_BYTES:
            raise CaptureError("more than 1 GB. Export a shorter stretch, or pack it with gzip.")
        digest.update(piece)
    file.file.seek(0)
    return digest.hexdigest(), size


def _keep(db: Db, job: CurrentJob, file: UploadFile, name: str, digest: str, size: int) -> Capture:
    """A new capture with its file and the layout guessed from its head; what the database cannot keep is refused."""
    preview = guess_layout(head_of(file.file.read(HEAD)))
    file.file.seek(0)
    row = Capture(
        id=uuid4(), job_id=job.id, filename=name, size_bytes=size, digest=digest,
        preview=preview.model_dump(mode="json"), layout=preview.layout.model_dump(mode="json"),
    )  # fmt: skip
    try:
        captures.add_upload(db, row, iter(lambda: file.file.read(BLOCK), b""))
        db.commit()
    except IntegrityError:
        raise
    except DBAPIError as error:
        if is_disk_full(error):
            raise CaptureError(FULL) from error
        raise
    return row


def head_of(start: bytes) -> bytes:
    """The first bytes of a file, unpacked, cut at a line's end; CaptureError when it is packed and broken."""
    if start[:2] == b"\x1f\x8b":
        try:
            start = zlib.decompressobj(31).decompress(start, HEAD)
        except zlib.error as error:
            raise CaptureError(f"the packed file is broken: {error}. Pack it again, or upload it unpacked.") from error
    return start[: start.rfind(b"\n") + 1] or start if len(start) >= HEAD else start


@router.get("/jobs/{number}/captures/{capture}")
def show(
    request: Request, job: CurrentJob, db: Db, capture: UUID, trigger: str = "", order: str = "", layout: str = "", fuse: str = ""
) -> Response:  # fmt: skip
    """A capture where it stands: its layout to confirm, how far it is read, or the chart. One brought in for a fuse has its clamps named by what
    lies behind that fuse."""
    row = _capture(db, job, capture)
    if row.status == "ready":
        return templates.TemplateResponse(request, "captures/capture.html", {"page": _page(db, job, row, trigger, order), "job": job})
    if row.status == "reading":
        return templates.TemplateResponse(request, "captures/capture_reading.html", {"row": row, "job": job, "fuse": fuse[:60]})
    kept = captures.kept_layouts(db)
    chosen = kept.get(layout) or Layout.model_validate(row.layout)
    return _layout_page(request, job, row, kept, chosen, row.message, blown=_blown(db, job, fuse))


def _blown(db: Db, job: CurrentJob, fuse: str) -> FuseWork | None:
    """The fuse a capture is brought in for; None where it is for none of this machine's."""
    known = {f.id for _, f in tree_of(job)[1].fuses()} if fuse else set()
    return fuse_work(db, job, job_log(db, job), fuse) if fuse in known else None


def _layout_page(
    request: Request,
    job: CurrentJob,
    row: Capture,
    kept: dict[str, Layout],
    layout: Layout,
    wrong: str = "",
    typed: dict[str, str] | None = None,
    blown: FuseWork | None = None,
) -> Response:
    context = {
        "row": row, "job": job, "preview": Preview.model_validate(row.preview), "layout": layout, "kept": kept, "wrong": wrong,
        "scales": CLAMP_SCALES, "roles": Role, "typed": typed or {}, "blown": blown, "clamp_round": CLAMP_ROUND,
    }  # fmt: skip
    return templates.TemplateResponse(request, "captures/capture_layout.html", context, status_code=422 if typed else 200)


def _page(db: Db, job: CurrentJob, row: Capture, trigger: str, order: str) -> CapturePage:
    trace = TRACE.validate_python(row.facts["crank"]) if row.facts.get("crank") else None
    sheet = job.sheet
    humps, wrong = trace.humps if trace else (), ""
    if trace and trigger.strip() and order.strip():
        try:
            places = [int(p) for p in order.replace(",", "-").replace(" ", "-").split("-") if p]
            humps = named_humps(trace, sheet.engine.cylinders, sheet.engine.strokes, float(trigger.replace(",", ".")), places or [0])
        except ValueError:
            wrong = "Type the time of cylinder 1 in seconds, such as 1.234, and the order as numbers, such as 1-3-4-2."
        except IronProbeError as error:
            wrong = str(error)
    logged = any(line.subject == str(row.id) for _, line in job_log(db, job).tests("capture"))
    return CapturePage(
        job_number=job.number, sheet=sheet, row=row, layout=Layout.model_validate(row.layout), trace=trace, humps=humps,
        trigger=trigger[:20], order=order[:40], wrong=wrong, logged=logged,
    )  # fmt: skip


@router.post("/jobs/{number}/captures/{capture}/layout")
def confirm(request: Request, job: CurrentJob, db: Db, form: Form, capture: UUID) -> Response:
    """Take the layout as confirmed and start reading; or say what does not fit, with everything typed kept."""
    row = _capture(db, job, capture)
    blown = _blown(db, job, field(form, "fuse"))
    fuse = blown.feeds.fuse.id if blown else ""
    if row.status in ("ready", "reading"):
        return _to(job, row, fuse)
    typed = {k: v for k in form if isinstance(v := form[k], str)}
    guessed = Layout.model_validate(row.layout)
    try:
        layout = _read_layout(form, guessed)
    except CaptureError as error:
        return _layout_page(request, job, row, captures.kept_layouts(db), guessed, str(error), typed, blown)
    name = field(form, "keep_as")[:60]
    if name:
        captures.keep_layout(db, name, layout)
    row.layout, row.status, row.message, row.read_samples = layout.model_dump(mode="json"), "reading", "", 0
    captures.save(db, row)
    request.app.state.queue.read_capture(row.id)
    if blown is not None:
        behind = {s.branch for s in blown.feeds.behind}
        said = {c.name: field(form, CLAMP_ROUND + str(c.column)) for c in layout.channels if c.role is Role.AMPS}
        typed = {"capture": str(row.id), **{CLAMP_ROUND + name: branch for name, branch in said.items() if branch in behind}}
        append(db, job, whoever(), TestLine(screen="trip", subject=fuse, test="capture", typed=typed))
    return _to(job, row, fuse)


def _read_layout(form: Form, guessed: Layout) -> Layout:
    """The layout a form holds; CaptureError with the first thing that is wrong."""
    channels = []
    try:
        for k in range(guessed.columns):
            role = field(form, f"role_{k}")
            if role in {r.value for r in Role}:
                scale = float(field(form, f"scale_{k}", "1").replace(",", ".") or 1)
                channels.append(
                    {
                        "column": k,
                        "name": field(form, f"name_{k}")[:60] or f"column {k + 1}",
                        "role": role,
                        "scale": scale,
                        "inverted": bool(field(form, f"inverted_{k}")),
                    }
                )
        time_column, rate = field(form, "time_column"), field(form, "rate_hz").replace(",", ".")
        return Layout.model_validate(
            {
                "delimiter": {"tab": "\t", "space": " "}.get(field(form, "delimiter"), field(form, "delimiter")), "decimal": field(form, "decimal"),
                "skip": int(field(form, "skip") or 0), "columns": guessed.columns, "time": field(form, "time"),
                "time_column": int(time_column) if time_column else None, "rate_hz": float(rate) if rate else None, "channels": channels,
            }
        )  # fmt: skip
    except ValidationError as error:
        told = error.errors()[0]
        raise CaptureError(f"{' '.join(str(p) for p in told['loc'])}: {told['msg'].removeprefix('Value error, ')}.") from error
    except ValueError as error:
        raise CaptureError("Scale, header lines and sample rate are numbers, such as 100, 2 and 10000.") from error


@router.get("/jobs/{number}/captures/{capture}/progress")
def progress(request: Request, job: CurrentJob, db: Db, capture: UUID, fuse: str = "") -> Response:
    """How far the reading is; sends the page on when it has ended, to the fuse it was brought in for if there is one."""
    row = _capture(db, job, capture)
    if row.status == "ready" and fuse:
        return Response(headers={"HX-Redirect": f"/jobs/{job.number}/fuse?fuse={quote(fuse[:60])}"})
    if row.status != "reading":
        return Response(headers={"HX-Redirect": f"/jobs/{job.number}/captures/{row.id}"})
    return templates.TemplateResponse(request, "captures/_capture_progress.html", {"row": row, "job": job, "fuse": fuse[:60]})


@router.get("/jobs/{number}/captures/{capture}/view")
def view(job: CurrentJob, db: Db, capture: UUID, first: int = 0, last: int = 2**40, width: int = 1200) -> Response:
    """Least and greatest of each channel in the columns of a view, by sample number."""
    row = _capture(db, job, capture)
    if row.status != "ready":
        raise HTTPException(409, "This capture is not read yet.")
    found = captures.read_view(db, row, first, last, width)
    exact = found.per_column <= 1
    body = {
        "first": found.first, "last": found.last, "per_column": found.per_column,
        "channels": [
            {"low": _short(low), "high": None if exact else _short(high)} for low, high in zip(found.low, found.high, strict=True)
        ],
    }  # fmt: skip
    return JSONResponse(body)


def _short(values: Singles) -> list[float]:
    """Numbers with the digits single precision holds, so that the answer stays short."""
    kept: list[float] = np.round(values.astype(np.float64), 4).tolist()
    return kept


@router.post("/jobs/{number}/captures/{capture}/bench")
def to_bench(request: Request, job: CurrentJob, db: Db, form: Form, capture: UUID) -> Response:
    """Hand the means of the crank to the Bench as readings; lead to lead drops between the points named."""
    row = _capture(db, job, capture)
    page = _page(db, job, row, "", "") if row.status == "ready" else None
    if page is None or page.trace is None:
        raise CaptureError("There is no crank in this capture to hand to the Bench")
    readings = crank_readings(page.trace, page.sheet, field(form, "red"), field(form, "black"))
    typed = {"file": row.filename, "words": " ".join(page.trace.words)}
    append(
        db,
        job,
        whoever(),
        TestLine(screen="capture", subject=str(row.id), test="crank", typed=typed, readings=readings),
        entry_id=entry_id(form),
    )
    return RedirectResponse(f"/jobs/{job.number}", status_code=303)


@router.post("/jobs/{number}/captures/{capture}/delete")
def delete(job: CurrentJob, db: Db, form: Form, capture: UUID, request: Request) -> Response:
    """Take a capture off the list; readings it gave stay on the Bench."""
    row = _capture(db, job, capture)
    row.deleted_at = now()
    captures.drop_upload(db, row.id)
    captures.save(db, row)
    return RedirectResponse(f"/jobs/{job.number}/captures", status_code=303)
