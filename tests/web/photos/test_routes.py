"""Photos of a job: sent once or twice, shown, printed, removed; and nobody else's."""

import re
from uuid import uuid4

from tests.conftest import Visitor
from tests.work.test_photos import photo


def send(visitor: Visitor, job: int, data: bytes, **fields: str) -> str:
    sent = {"form_token": visitor.cookies["iron_probe_form"], "entry_id": str(uuid4()), **fields}
    return visitor.post(f"/jobs/{job}/photos", data=sent, files={"photo": ("IMG_1.jpg", data, "image/jpeg")}).text


def test_a_photo_stands_at_the_repair_and_in_the_report_until_it_is_removed(visitor: Visitor) -> None:
    once = str(uuid4())
    for _ in range(2):
        page = send(visitor, 102, photo(), caption="plug 8, green", entry_id=once, read_at="20 min ago")
    assert page.count("plug 8, green,") == 2 and f"/jobs/102/photos/{once}.jpg" in page  # its name and the line below it: one photo
    kept = visitor.get(f"/jobs/102/photos/{once}.jpg")
    assert (
        kept.headers["content-type"] == "image/jpeg"
        and "immutable" in kept.headers["cache-control"]
        and kept.content.startswith(b"\xff\xd8")
    )
    assert visitor.get(f"/jobs/103/photos/{once}.jpg").status_code == 404
    assert f"{once}.jpg" in visitor.get("/jobs/102/report").text
    page = visitor.submit(f"/jobs/102/photos/{once}/remove")
    assert once not in page and visitor.get(f"/jobs/102/photos/{once}.jpg").status_code == 404


def test_what_is_no_photo_is_told_and_nothing_kept(visitor: Visitor) -> None:
    page = send(visitor, 102, b"<svg/>", caption="x")
    assert "JPEG, PNG and WebP are taken" in page and "Nothing was changed" in page
    assert "No photo came with it" in visitor.submit("/jobs/102/photos", caption="x")
    assert not re.search(r"photos/[0-9a-f-]+\.jpg", visitor.get("/jobs/102/repair").text)
