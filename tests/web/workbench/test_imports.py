"""Tables put on a circuit from its import page."""

import html
import re
from uuid import uuid4

import pytest

from iron_probe.machines import sheet_text
from tests.conftest import Visitor

WIRES = "Gauge;Run from;Run to;Length\n1.5;bat.plus;mast lamp feed;2.5\n1.5;mast lamp feed;mast lamp plug;0.4\n"


@pytest.fixture
def machine(visitor: Visitor) -> str:
    visitor.submit("/machines", name="Own bus", text=sheet_text("crew-minibus"), entry_id=str(uuid4()))
    return visitor.last.url.path


def test_columns_are_guessed_changed_and_put_on_a_draft(visitor: Visitor, machine: str) -> None:
    page = html.unescape(visitor.submit(machine + "/import", what="wires", text=WIRES, do="look"))
    assert visitor.last.status_code == 422 and "no column for from and to" in page and "mast lamp plug;0.4" in page
    columns = {f"column-{k}": c for k, c in enumerate(("size", "from", "to", "length"))}
    page = html.unescape(visitor.submit(machine + "/import", what="wires", of="wires", text=WIRES, do="look", **columns))
    assert visitor.last.status_code == 200 and "bat.plus to mast lamp feed (new), 1.5 mm², 2.5 m" in page
    page = html.unescape(visitor.submit(machine + "/import", what="wires", of="wires", text=WIRES, do="put", **columns))
    draft = re.search(r'<textarea name="text" hidden>(.*?)</textarea>', page, re.S)
    assert draft and "mast.lamp.plug" in draft[1] and "data-fresh" in page
    assert "version 1 of 1" in visitor.get(machine).text  # nothing is kept before it is kept


def test_a_table_of_fuses_asks_where_they_are_fed_from(visitor: Visitor, machine: str) -> None:
    table = "F31;10 A;Mast lamp\nF32;5 A;Radio;key\n"
    page = html.unescape(visitor.submit(machine + "/import", what="feeds", text=table, do="put", always="bat.plus"))
    assert visitor.last.status_code == 422 and "which point feeds those" in page
    page = visitor.submit(machine + "/import", what="feeds", text=table, do="put", always="bat.plus", key="bat.plus")
    assert visitor.last.status_code == 200 and "mast-lamp-fuse" in page and "radio" in page


def test_a_file_of_another_office_is_read_and_one_that_is_no_text_is_told(visitor: Visitor, machine: str) -> None:
    token = re.search(r'name="form_token" value="([^"]+)"', visitor.get(machine + "/import").text)
    assert token
    for raw, status, told in (
        ("from;to\nbat.plus;Kühler\n".encode("cp1252"), 200, "Kühler (new)"),
        ("from;to\nbat.plus;Kühler\n".encode("utf-16"), 200, "Kühler (new)"),
        (b"\x00\x01\x02", 422, "is no text"),
        (b"a;b\n" * 600_000, 422, "larger than a megabyte"),
        (b"a;b\n" * 10_000, 422, "10,000 lines"),
    ):
        data = {"form_token": token[1], "what": "wires", "do": "look"}
        answer = visitor.post(machine + "/import", data=data, files={"file": ("wires.csv", raw, "text/csv")})
        assert answer.status_code == status and told in html.unescape(answer.text), told


def test_a_netlist_goes_out_and_comes_back(visitor: Visitor, machine: str) -> None:
    out = visitor.get(machine + "/parts.net").text
    assert "nothing is changed by it" in visitor.submit(machine + "/import", what="netlist", text=out, do="look")
    page = html.unescape(visitor.submit(machine + "/import", what="netlist", text="wire w bat.plus nowhere\nrelay r a b\n", do="put"))
    assert visitor.last.status_code == 422 and "line 2" in page and "wire w bat.plus nowhere" in page
