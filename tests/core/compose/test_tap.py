"""Consumers put onto a sheet."""

import pytest

from iron_probe.core.circuit.fuse_boxes import boxes_of
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.compose.feeds import Feed
from iron_probe.core.compose.tap import put_feeds, tap
from iron_probe.core.errors import SheetError
from iron_probe.core.solve.operate import solve_state
from iron_probe.machines import sheet_text

BUS, MOWER = sheet_text("crew-minibus"), sheet_text("green-mower")
TABLE = "F21; 10 A; Heater fan; 80 W; by heater switch\nF22; 5 A; Tracker; 6 mA\nF23; 7.5 A; Horn; switch\nF24; 5 A; Reading lamps; 10 W; key; by heater switch\n"


def test_an_accessory_is_tapped_in_with_its_fuse_and_comes_back_to_the_common_ground() -> None:
    sheet = read_sheet(tap(MOWER, "solenoid battery stud", Feed(line=0, box=1, slot="", title="Work lamp", rating_a=10, watts=55)))
    assert [sheet.element(i).type for i in ("work-lamp-fuse", "work-lamp-wire", "work-lamp-load")] == ["fuse", "wire", "load"]
    assert sheet.element("work-lamp-fuse").start == "sol.in" and sheet.element("work-lamp-load").end in ("block", "frame")  # type: ignore[union-attr]
    with pytest.raises(SheetError, match=r"no point is called “sol\.inn”; did you mean"):
        tap(MOWER, "sol.inn", Feed(line=0, box=1, slot="", title="Lamp"))


def test_what_sleeps_is_tapped_in_as_a_module() -> None:
    sheet = read_sheet(tap(MOWER, "sol.in", Feed(line=0, box=1, slot="", title="Tracker", asleep_ma=6)))
    assert sheet.element("tracker-module").asleep_a == 0.006  # type: ignore[union-attr]


def test_a_table_of_fuses_lies_in_its_box_and_its_switches_work() -> None:
    before = read_sheet(BUS)
    sheet = read_sheet(put_feeds(BUS, TABLE, "bat.plus", "bat.plus"))
    box = next(b for b in boxes_of(sheet) if b.name == "box 1")
    assert {s.element.slot for s in box.slots} >= {"F21", "F22", "F23", "F24"}
    assert len(sheet.controls) == len(before.controls) + 2 and len(sheet.states) == len(before.states) + 2
    on = next(s for s in sheet.states if s.startswith("on-heater"))
    solved = solve_state(network_of(sheet), on)
    assert abs(float(solved.drop("heater-fan-load")[0])) > 10
    assert abs(float(solve_state(network_of(sheet), next(iter(sheet.states))).drop("heater-fan-load")[0])) < 1


@pytest.mark.parametrize(
    ("table", "always", "told"),
    [
        ("", "bat.plus", "no fuse is listed"),
        ("F1; 10 A", "bat.plus", "says no consumer"),
        ("F1; 10 A; Lamp; key", "bat.plus", "which point feeds those"),
        ("F1; 10 A; Lamp", "bat.pluss", "no point is called"),
    ],
)
def test_what_cannot_be_put_on_is_told(table: str, always: str, told: str) -> None:
    with pytest.raises(SheetError, match=told):
        put_feeds(BUS, table, always)


def test_consumers_of_one_slot_hang_on_one_fuse() -> None:
    sheet = read_sheet(put_feeds(BUS, "F41; 15 A; Horn\nF41; Bell\n", "bat.plus"))
    assert sheet.element("bell-wire").start == sheet.element("horn-fuse").end  # type: ignore[union-attr]
