"""Photos of jobs and machines: taken at the repair, at a reading or of the machine by itself, kept without what the camera wrote beside them, shown there; a job's in the report."""

from uuid import UUID

from fastapi import APIRouter, HTTPException, Response
from fastapi.responses import RedirectResponse
from starlette.datastructures import FormData, UploadFile

from iron_probe.core.errors import ReadingError
from iron_probe.web.entry import read_at
from iron_probe.web.machines.routes import Machine
from iron_probe.web.page import CurrentJob, Db, Form, back_to, entry_id, field
from iron_probe.web.who import whoever
from iron_probe.work.logs import job_log
from iron_probe.work.photos import MOST_BYTES, Shot, find_photo, keep_photo, remove_photo

router = APIRouter()
LONGEST = 120


@router.post("/jobs/{number}/photos")
def take_photo(job: CurrentJob, db: Db, form: Form) -> Response:
    """Keep a photo with its caption, at a reading where one is named; a repeated one is the same photo."""
    log, line = job_log(db, job), field(form, "line")
    taken = next((r for r in log.readings if str(r.id) == line), None)
    if line and taken is None:
        raise ReadingError("The reading this photo was taken at is not one of this job's: choose one from the list, or none")
    shot = Shot(
        caption=field(form, "caption")[:LONGEST], by=whoever().name, taken_at=read_at(form), epoch=taken.epoch if taken else log.epoch,
        line=taken.id if taken else None,
    )  # fmt: skip
    keep_photo(db, job, entry_id(form), sent_picture(form), shot)
    return back_to(job, "/repair#photos")


def sent_picture(form: FormData) -> bytes:
    """The picture a form brings; ReadingError where it brings none."""
    file = form.get("photo")
    if not isinstance(file, UploadFile) or not file.filename:
        raise ReadingError("No photo came with it: choose one, or take one now")
    return file.file.read(MOST_BYTES + 1)


@router.post("/machines/{number}/photos")
def take_of_machine(machine: Machine, db: Db, form: Form) -> Response:
    """Keep a photo of a machine by itself: its plate, its fuse box, where the battery sits."""
    keep_photo(db, machine, entry_id(form), sent_picture(form), Shot(caption=field(form, "caption")[:LONGEST], by=whoever().name))
    return RedirectResponse(f"/machines/{machine.number}#photos", status_code=303)


@router.get("/machines/{number}/photos/{photo}.jpg")
def picture_of_machine(machine: Machine, db: Db, photo: UUID) -> Response:
    """A machine's photo as it is kept. It never changes."""
    found = find_photo(db, machine, photo)
    if found is None:
        raise HTTPException(404, f"{machine.name} has no such photo. Its photos stand on its page.")
    return _as_kept(found.jpeg)


@router.post("/machines/{number}/photos/{photo}/remove")
def remove_from_machine(machine: Machine, db: Db, photo: UUID, form: Form) -> Response:
    """Take a photo off a machine's page."""
    remove_photo(db, machine, photo)
    return RedirectResponse(f"/machines/{machine.number}#photos", status_code=303)


def _as_kept(jpeg: bytes) -> Response:
    return Response(jpeg, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.get("/jobs/{number}/photos/{photo}.jpg")
def picture(job: CurrentJob, db: Db, photo: UUID) -> Response:
    """A photo as it is kept. It never changes."""
    found = find_photo(db, job, photo)
    if found is None:
        raise HTTPException(404, f"Job {job.number} has no such photo. Its photos stand under Repair & retest.")
    return _as_kept(found.jpeg)


@router.post("/jobs/{number}/photos/{photo}/remove")
def remove(job: CurrentJob, db: Db, photo: UUID, form: Form) -> Response:
    """Take a photo out of the job and its report."""
    remove_photo(db, job, photo)
    return back_to(job, "/repair#photos")
