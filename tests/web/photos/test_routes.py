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


def test_a_photo_at_a_reading_is_named_by_it_and_at_another_jobs_is_refused(visitor: Visitor) -> None:
    first = re.search(r'<option value="([0-9a-f-]{36})"\s*>(\d+)\. ', visitor.get("/jobs/101/repair").text)
    assert first is not None
    page = send(visitor, 101, photo(), caption="the tip on the stud", line=first[1])
    said = f"reading {first[2]}: the tip on the stud"
    assert said in page and said in visitor.get("/jobs/101/report").text
    refused = send(visitor, 103, photo(), caption="x", line=first[1])
    assert "The reading this photo was taken at is not" in refused


def test_a_machine_keeps_photos_of_its_own(visitor: Visitor) -> None:
    once = str(uuid4())
    said = {"form_token": visitor.cookies["iron_probe_form"], "entry_id": once, "caption": "fuse box lid"}
    page = visitor.post("/machines/1/photos", data=said, files={"photo": ("a.png", photo("PNG"), "image/png")}).text
    assert "fuse box lid" in page and visitor.get(f"/machines/1/photos/{once}.jpg").content.startswith(b"\xff\xd8")
    assert visitor.get(f"/machines/2/photos/{once}.jpg").status_code == visitor.get(f"/jobs/101/photos/{once}.jpg").status_code == 404
    assert f"{once}.jpg" not in visitor.submit(f"/machines/1/photos/{once}/remove")


def test_the_yards_mark_heads_its_reports_until_it_is_taken_away(visitor: Visitor) -> None:
    assert visitor.get("/yard/mark.jpg").status_code == 404
    token = {"form_token": visitor.cookies["iron_probe_form"]}
    visitor.post("/yard/mark", data=token, files={"photo": ("mark.png", photo("PNG", (1200, 400)), "image/png")})
    visitor.submit("/yard", name="Cinder Quay", address="")
    assert visitor.get("/yard/mark.jpg").content.startswith(b"\xff\xd8")
    assert 'src="/yard/mark.jpg"' in visitor.get("/jobs/102/report").text
    visitor.submit("/yard/mark", gone="1")
    assert "/yard/mark.jpg" not in visitor.get("/jobs/102/report").text
    assert "JPEG, PNG and WebP" in visitor.post("/yard/mark", data=token, files={"photo": ("x.gif", b"GIF89a", "image/gif")}).text
