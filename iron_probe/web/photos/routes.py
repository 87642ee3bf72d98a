"""Photos of a job: taken at the repair, kept without what the camera wrote beside them, shown there and in the report."""

from uuid import UUID

from fastapi import APIRouter, HTTPException, Response
from starlette.datastructures import UploadFile

from iron_probe.core.errors import ReadingError
from iron_probe.web.entry import read_at
from iron_probe.web.page import CurrentJob, Db, Form, back_to, entry_id, field
from iron_probe.web.who import whoever
from iron_probe.work.logs import job_log
from iron_probe.work.photos import MOST_BYTES, find_photo, keep_photo, remove_photo

router = APIRouter()
LONGEST = 120


@router.post("/jobs/{number}/photos")
def take_photo(job: CurrentJob, db: Db, form: Form) -> Response:
    """Keep a photo with its caption; a repeated one is the same photo."""
    file = form.get("photo")
    if not isinstance(file, UploadFile) or not file.filename:
        raise ReadingError("No photo came with it: choose one, or take one now")
    data = file.file.read(MOST_BYTES + 1)
    keep_photo(db, job, entry_id(form), data, field(form, "caption")[:LONGEST], whoever().name, job_log(db, job).epoch, read_at(form))
    return back_to(job, "/repair#photos")


@router.get("/jobs/{number}/photos/{photo}.jpg")
def picture(job: CurrentJob, db: Db, photo: UUID) -> Response:
    """A photo as it is kept. It never changes."""
    found = find_photo(db, job, photo)
    if found is None:
        raise HTTPException(404, f"Job {job.number} has no such photo. Its photos stand under Repair & retest.")
    return Response(found.jpeg, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.post("/jobs/{number}/photos/{photo}/remove")
def remove(job: CurrentJob, db: Db, photo: UUID, form: Form) -> Response:
    """Take a photo out of the job and its report."""
    remove_photo(db, job, photo)
    return back_to(job, "/repair#photos")
