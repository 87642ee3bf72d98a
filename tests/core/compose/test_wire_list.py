"""Wire lists pasted onto a sheet, and the feed list written out."""

import csv

import pytest

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.compose.table import MOST_ROWS
from iron_probe.core.compose.wire_list import Wire, feed_list, put_wires, read_wires
from iron_probe.core.errors import SheetError
from iron_probe.machines import load_sheet, sheet_text

MOWER = sheet_text("green-mower")


def test_columns_by_their_heading_in_any_order() -> None:
    found, mistakes = read_wires("Length;To;From;Colour;Size\n2,5;sol.coil;key switch run terminal;green;1.5 mm²\n1;b;a;;AWG 14\n")
    assert mistakes == []
    assert found == [
        Wire(line=2, start="key switch run terminal", end="sol.coil", mm2=1.5, colour="green", length_m=2.5),
        Wire(line=3, start="a", end="b", awg=14, length_m=1.0),
    ]


def test_without_a_heading_they_come_in_order() -> None:
    (wire,), _ = read_wires("a\tb\t2.5\tred\t3 m")
    assert wire == Wire(line=1, start="a", end="b", mm2=2.5, colour="red", length_m=3.0)


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ("a", "not both ends"),
        ("=A1;b", "formula"),
        ("a;b;thick", "“thick” is no size"),
        ("a;b;1;red;900", "“900” is no length"),
        ("a;b;AWG 44", "AWG 44"),
    ],
)
def test_what_cannot_be_taken_is_told_by_line_and_nothing_is_put_on(line: str, told: str) -> None:
    with pytest.raises(SheetError, match=f"line 2, wires: .*{told}"):
        put_wires(MOWER, f"key.run;carb.feed;1\n{line}")


def test_ten_thousand_lines_are_refused_in_one_word() -> None:
    with pytest.raises(SheetError, match=f"10,000 lines; at most {MOST_ROWS}"):
        put_wires(MOWER, "a;b\n" * 10_000)


def test_known_points_are_found_and_new_ones_made() -> None:
    text = put_wires(MOWER, "from;to;size;colour;length\nkey switch run terminal;lamp plug;1.5;green;2\nlamp plug;frame;1.5;black;1")
    sheet = read_sheet(text)
    first, second = sheet.elements[-2:]
    assert (first.start, first.end, second.end) == ("key.run", "lamp.plug", "frame")  # type: ignore[union-attr]
    assert sheet.points["lamp.plug"].title == "lamp plug" and first.title == "Green wire key.run to lamp.plug"


def test_the_feed_list_has_every_part_and_no_cell_a_spreadsheet_would_work_out() -> None:
    rows = list(csv.DictReader(feed_list(MOWER.replace("title: Fuse,", 'title: "=1+1",')).splitlines()))
    assert [r["id"] for r in rows] == [e.id for e in load_sheet("green-mower").elements]
    assert next(r for r in rows if r["id"] == "f1")["title"] == "'=1+1"
