"""A whole job as a file: out of this yard, and in from another."""

import tempfile
from collections.abc import Iterator
from typing import IO

from fastapi import APIRouter, Request, Response
from fastapi.responses import RedirectResponse, StreamingResponse
from starlette.datastructures import UploadFile

from iron_probe.web.machines.exports import map_alone
from iron_probe.web.page import CurrentJob, Db, Form
from iron_probe.work.archive.read import MOST_BYTES, ArchiveError, read_archive
from iron_probe.work.archive.write import write_archive

router = APIRouter()
IN_MEMORY, PIECE = 4_000_000, 1 << 16


@router.get("/jobs/{number}/job.zip")
def out(job: CurrentJob, db: Db) -> Response:
    """The job whole: its log, photos, records, circuit, report."""
    file = tempfile.SpooledTemporaryFile(IN_MEMORY)  # noqa: SIM115  closed once it is sent
    write_archive(db, job, file, map_alone(job.sheet))
    size = file.tell()
    file.seek(0)
    head = {"Content-Disposition": f'attachment; filename="job-{job.number}.zip"', "Content-Length": str(size)}
    return StreamingResponse(_pieces(file), media_type="application/zip", headers=head)


def _pieces(file: IO[bytes]) -> Iterator[bytes]:
    with file:
        yield from iter(lambda: file.read(PIECE), b"")


@router.post("/jobs/bring-in")
def bring_in(request: Request, db: Db, form: Form) -> Response:
    """Take a job in from such a file, under a number of this yard."""
    file = form.get("archive")
    if not isinstance(file, UploadFile) or not file.filename:
        raise ArchiveError("No file came with it: choose the job's zip and send it again")
    if file.size is not None and file.size > MOST_BYTES:
        raise ArchiveError(f"The file has {file.size / 1e6:,.0f} MB; at most {MOST_BYTES / 1e6:,.0f} MB are taken")
    job = read_archive(db, file.file)
    return RedirectResponse(f"/jobs/{job.number}/report", status_code=303)
