"""The composer by HTTP: drawn, kept once, refused with everything said kept."""

import html
import re
from uuid import uuid4

from iron_probe.core.circuit.read_sheet import read_sheet
from tests.conftest import Visitor


def test_a_kind_is_drawn_with_its_questions(visitor: Visitor) -> None:
    page = visitor.get("/compose?kind=mower&start=button-frame").text
    assert 'value="button-frame" checked' in page and 'aria-label="Circuit of Ride-on mower"' in page
    assert re.search(r"\d+ of the parts assumed", page)


def test_kinds_are_offered_and_an_unknown_one_is_told(visitor: Visitor) -> None:
    assert "/compose?kind=forklift" in visitor.get("/compose").text
    answer = visitor.get("/compose?kind=forklft")
    assert answer.status_code == 422 and "did you mean forklift" in answer.text


def test_a_machine_is_kept_once_with_its_answers_and_what_is_assumed(visitor: Visitor) -> None:
    said = {"kind": "mower", "start": "key-frame", "batteries": "one", "name": "Mower “9”", "then": "machine", "entry_id": str(uuid4())}
    visitor.submit("/compose/keep", **said)
    machine = visitor.last.url.path
    page = html.unescape(visitor.last.text)
    assert re.fullmatch(r"/machines/\d+", machine) and "put together from 2 answers" in page
    assert 'name="element" value="frame-bolt"' in page and 'name="element" value="battery"' not in page
    visitor.submit("/compose/keep", **said)
    assert visitor.last.url.path == machine
    visitor.submit(machine + "/seen", element="frame-bolt")
    assert 'name="element" value="frame-bolt"' not in visitor.last.text and 'value="minus-cable"' in visitor.last.text


def test_what_is_edited_is_no_longer_assumed(visitor: Visitor) -> None:
    visitor.submit("/compose/keep", kind="kart", name="Kart 5", then="machine", entry_id=str(uuid4()))
    machine = visitor.last.url.path
    text = visitor.get(machine + "/sheet.yaml").text
    visitor.submit(machine + "/sheet", text=re.sub(r"(id: f1, .*rating_a: )\d+", r"\g<1>7.5", text), base="1", note="seen")
    assert 'name="element" value="f1"' not in visitor.last.text and 'name="element" value="frame-bolt"' in visitor.last.text


def test_taking_it_in_comes_next(visitor: Visitor) -> None:
    visitor.submit("/compose/keep", kind="van", name="Van 31", then="job", entry_id=str(uuid4()))
    assert visitor.last.url.path == "/jobs/new" and re.search(r'<option value="\d+" selected>Van 31', visitor.last.text)


def test_what_cannot_be_taken_is_told_and_nothing_is_lost(visitor: Visitor) -> None:
    table = "F1, =1+1, Horn\nF2, Lamp"
    page = html.unescape(visitor.submit("/compose/keep", kind="car", name="Car 3", feeds=table, then="job", entry_id=str(uuid4())))
    assert visitor.last.status_code == 422
    assert "holds a formula of a spreadsheet" in page and table in page and 'value="Car 3"' in page and "Not kept yet" in page
    page = visitor.submit("/compose/keep", kind="car", name="", entry_id=str(uuid4()))
    assert visitor.last.status_code == 422 and "Give the machine a name" in page
    page = html.unescape(visitor.submit("/compose", kind="car", volts="48"))
    assert "no answer is called “48”" in page


def test_sheet_and_answers_go_out_as_files(visitor: Visitor) -> None:
    assert read_sheet(visitor.get("/compose/sheet.yaml?kind=scooter&title=Scooter+2").text).title == "Scooter 2"
    answers = visitor.get("/compose/answers.yaml?kind=scooter&agree=kill").text
    assert answers == "format: iron-probe-answers/1\nkind: scooter\nagree:\n- kill\n"


def test_what_a_job_measured_is_assumed_no_more(visitor: Visitor) -> None:
    visitor.submit("/compose/keep", kind="mower", name="Mower 12", then="machine", entry_id=str(uuid4()))
    machine = visitor.last.url.path
    assert 'name="element" value="plus-clamp"' in visitor.last.text
    clamp = read_sheet(visitor.get(machine + "/sheet.yaml").text).element("plus-clamp")
    job = {"school": "common", "temp_degc": "12", "cold_degc": "-5", "symptom": "slow", "entry_id": str(uuid4())}
    visitor.submit("/jobs", machine_no=machine.rsplit("/", 1)[1], **job)
    reading = {"red": clamp.points()[0], "black": clamp.points()[1], "state": "crank", "instrument": "voltmeter", "value": "0.03"}
    visitor.submit(visitor.last.url.path + "/readings", **reading)
    page = visitor.get(machine).text
    assert 'name="element" value="plus-clamp"' not in page and 'name="element" value="frame-bolt"' in page
