"""The workbench by HTTP: drafts kept by nobody but the page, versions kept once, a joint drawn that the evidence asks for."""

import html
import re
from uuid import uuid4

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.machines import sheet_text
from tests.conftest import Visitor

MOWER = sheet_text("green-mower")


def brought_in(visitor: Visitor) -> str:
    visitor.submit("/machines", name="Mower 7", text=MOWER, entry_id=str(uuid4()))
    return visitor.last.url.path


def draft(page: str) -> str:
    found = re.search(r'<textarea name="text" hidden>(.*?)</textarea>', page, re.S)
    assert found
    return html.unescape(found[1])


def test_an_edit_changes_the_draft_and_keeps_nothing(visitor: Visitor) -> None:
    machine = brought_in(visitor)
    page = visitor.submit(machine + "/workbench", text=MOWER, base="1", do="plug", part="coil-wire", title="Plug A")
    assert "plug-a" in draft(page) and "plug-a" not in visitor.get(machine + "/sheet.yaml").text
    visitor.submit(machine + "/workbench/keep", text=draft(page), base="1", note="seen")
    assert visitor.last.url.path == machine
    assert "plug-a" in {e.id for e in read_sheet(visitor.get(machine + "/sheet.yaml").text).elements}


def test_an_edit_that_cannot_be_made_is_told_and_the_draft_stays(visitor: Visitor) -> None:
    machine = brought_in(visitor)
    page = visitor.submit(machine + "/workbench", text=MOWER, base="1", do="tap", at="nowhere", what="Lamp, 5 A")
    assert visitor.last.status_code == 422 and "no point is called" in html.unescape(page)
    assert draft(page).strip() == MOWER.strip()
    page = visitor.submit(machine + "/workbench", text="no: [", base="1", do="show")
    assert visitor.last.status_code in (400, 422) and "Mend it as text" in html.unescape(page)


def test_of_two_drafts_the_second_is_asked_to_look(visitor: Visitor) -> None:
    machine = brought_in(visitor)
    visitor.submit(machine + "/workbench/keep", text=MOWER.replace("rating_a: 20", "rating_a: 15"), base="1", note="first")
    page = visitor.submit(machine + "/workbench/keep", text=MOWER.replace("rating_a: 20", "rating_a: 30"), base="1", note="second")
    assert visitor.last.status_code == 409 and "Version 2 was kept meanwhile (first)" in page and "rating_a: 30" in draft(page)


def test_a_joint_that_the_evidence_asks_for_is_drawn_and_the_job_moves_to_it(visitor: Visitor) -> None:
    machine = brought_in(visitor)
    said = {"school": "common", "temp_degc": "12", "cold_degc": "-5", "symptom": "slow", "entry_id": str(uuid4())}
    visitor.submit("/jobs", machine_no=machine.rsplit("/", 1)[1], **said)
    job = re.match(r"/jobs/(\d+)", visitor.last.url.path)
    assert job
    visitor.submit(f"{job[0]}/draw", part="minus-cable")
    assert visitor.last.status_code == 200
    pinned = visitor.job(int(job[1])).pinned
    assert pinned.number == 2
    assert "joint-at-minus-cable" in {e.id for e in read_sheet(visitor.get(machine + "/sheet.yaml").text).elements}
    answer = visitor.submit(f"{job[0]}/draw", part="nothing-such")
    assert "no element is called" in html.unescape(answer)
