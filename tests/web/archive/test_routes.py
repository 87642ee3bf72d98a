"""A job's file by HTTP: given out, refused where it is here, taken in elsewhere."""

import io
import zipfile

from tests.conftest import Visitor
from tests.work.archive.test_read import rewritten


def sent(visitor: Visitor, data: bytes, name: str = "job.zip") -> str:
    token = {"form_token": visitor.cookies["iron_probe_form"]}
    visitor.last = visitor.post("/jobs/bring-in", data=token, files={"archive": (name, data, "application/zip")})
    return visitor.last.text


def test_a_job_goes_out_and_comes_in_under_a_number_of_its_own(visitor: Visitor) -> None:
    given = visitor.get("/jobs/103/job.zip")
    assert given.headers["content-disposition"] == 'attachment; filename="job-103.zip"'
    assert "job.json" in zipfile.ZipFile(io.BytesIO(given.content)).namelist()
    assert "is job 103 of this yard and is here already" in sent(visitor, given.content) and visitor.last.status_code == 422
    page = sent(visitor, rewritten(given.content, {}, {"captures": [], "photos": []}).getvalue())
    assert visitor.last.status_code == 200 and visitor.last.url.path.endswith("/report"), page[:500]
    assert visitor.last.url.path != "/jobs/103/report"


def test_no_file_and_no_archive_are_told(visitor: Visitor) -> None:
    assert "No file came with it" in visitor.submit("/jobs/bring-in") and visitor.last.status_code == 422
    assert "no archive that can be opened" in sent(visitor, b"<html>") and visitor.last.status_code == 422
