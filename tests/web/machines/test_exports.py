"""A machine's circuit as files."""

import re
from uuid import uuid4
from xml.etree import ElementTree

import pytest

from iron_probe.core.circuit.read_sheet import read_sheet
from tests.conftest import Visitor


@pytest.mark.parametrize(
    ("file", "kind"),
    [
        ("sheet.yaml", "application/yaml"),
        ("feeds.csv", "text/csv"),
        ("netlist.cir", "text/plain"),
        ("parts.net", "text/plain"),
        ("plate.pdf", "application/pdf"),
        ("map.svg", "image/svg+xml"),
    ],
)
def test_each_file_comes_as_what_it_is(visitor: Visitor, file: str, kind: str) -> None:
    answer = visitor.get(f"/machines/1/{file}")
    assert answer.status_code == 200 and answer.headers["content-type"].startswith(kind)
    assert answer.headers["content-disposition"].startswith("attachment")


def test_they_tell_the_same_circuit(visitor: Visitor) -> None:
    sheet = read_sheet(visitor.get("/machines/1/sheet.yaml").text)
    assert len(visitor.get("/machines/1/feeds.csv").text.splitlines()) == len(sheet.elements) + 1
    drawn = ElementTree.fromstring(visitor.get("/machines/1/map.svg").text)
    assert drawn.tag.endswith("svg") and sheet.title in "".join(drawn.itertext())
    state = list(sheet.states)[-1]
    assert visitor.get(f"/machines/1/netlist.cir?state={state}").text.strip().lower().endswith(".end")
    assert visitor.get("/machines/1/netlist.cir?state=nothing").status_code in (400, 404, 422)


def test_a_sheet_travels_with_where_it_comes_from_and_the_jobs_that_proved_it(visitor: Visitor) -> None:
    text = visitor.get("/machines/1/sheet.yaml").text
    assert re.search(r"^# Version 1, \d{4}-\d\d-\d\d, demo yard: copied from the shipped sheet .*; proven by job 101$", text, re.M)
    assert "<b>proven by</b>" in visitor.get("/machines/1").text
    visitor.submit("/machines", name="Bus from the next yard", text=text, entry_id=str(uuid4()))
    assert "proven by job 101</li>" in visitor.last.text
