"""Netlists written, changed and put back."""

import pytest

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.compose.netlist import put_netlist, write_netlist
from iron_probe.core.errors import SheetError
from iron_probe.machines import sheet_ids, sheet_text

MOWER = sheet_text("green-mower")


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_what_is_written_says_the_same_circuit(sheet_id: str) -> None:
    text = sheet_text(sheet_id)
    assert read_sheet(put_netlist(text, write_netlist(text))).elements == read_sheet(text).elements


def test_a_changed_line_changes_its_part_and_a_new_one_adds_one() -> None:
    netlist = 'wire coil-wire seat.out sol.coil mm2=2.5 length_m=3 "Coil wire, thicker"\nload lamp sol.in frame watts=55 "Work lamp"\n'
    before, after = read_sheet(MOWER), read_sheet(put_netlist(MOWER, netlist))
    assert after.element("coil-wire").title == "Coil wire, thicker" and after.element("coil-wire").mm2 == 2.5  # type: ignore[union-attr]
    assert len(after.elements) == len(before.elements) + 1 and after.element("lamp").start == "sol.in"  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("line", "told"),
    [
        ("wire a b", "says not type, id, from and to"),
        ("relay r a b c", "no type of two ends is called “relay”"),
        ("wire w a b mm2=thick", "mm2 is a number"),
        ("wire w a b mm2=nan", "mm2 is a number"),
        ("wire w a b ohms=2", "no figure is called “ohms”"),
        ('wire w a b "open', "quotation mark"),
        ("wire w a b\nwire w a c", "each part once"),
        ("# nothing", "no part is listed"),
        ("wire w a b\n" * 2001, "2,001 lines|2,002 lines"),
    ],
)
def test_lines_that_cannot_be_taken_are_told_and_nothing_is_put_on(line: str, told: str) -> None:
    with pytest.raises(SheetError, match=told):
        put_netlist(MOWER, line)
