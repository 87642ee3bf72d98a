"""A report set by a worker, opened by the customer's link, and ended."""

import io
import re

from pypdf import PdfReader

from tests.conftest import Visitor
from tests.work.test_photos import photo


def test_both_pages_are_set_as_they_stood_and_the_link_can_be_ended(visitor: Visitor) -> None:
    token = {"form_token": visitor.cookies["iron_probe_form"], "caption": "stud, green"}
    visitor.post("/jobs/101/photos", data=token, files={"photo": ("a.jpg", photo(), "image/jpeg")})
    page = visitor.submit("/jobs/101/report/prints")
    assert "being set" in page
    visitor.work()
    part = visitor.get("/jobs/101/report/prints").text
    assert "being set" not in part and "by Una Skerry" in part
    word = re.search(r'href="(/r/[^"]+)"', part)
    assert word is not None
    visitor.cookies.clear()
    given = visitor.get(word[1])
    assert given.headers["content-type"] == "application/pdf"
    reader = PdfReader(io.BytesIO(given.content))
    text = " ".join(p.extract_text() for p in reader.pages)
    for said in ("Cinder Quay fleet yard", "Bus 7, harbour run", "Groans over on the first start", "Technician's record", "stud, green"):
        assert said in re.sub(r"\s+", " ", text)
    assert any(p.images for p in reader.pages)
    visitor.get("/")
    end = re.search(r'action="(/jobs/101/report/prints/[^"]+/end)"', visitor.get("/jobs/101/report").text)
    assert end is not None
    assert "its link was ended" in visitor.submit(end[1])
    assert visitor.get(word[1]).status_code == 410 and visitor.get("/r/nonsense").status_code == 410
    mine = re.search(r'href="(/jobs/101/report/prints/[^"]+\.pdf)"', visitor.last.text)
    assert mine is not None and visitor.get(mine[1]).content.startswith(b"%PDF")
    assert visitor.get(mine[1].replace("/101/", "/102/")).status_code == 404
