"""Edits of a circuit: each leaves a sheet that reads, and touches no line it need not."""

import pytest

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.compose.edits import change, changed_is_seen, copy, feed, join, put_in, seen, split, strike_out
from iron_probe.core.errors import SheetError
from iron_probe.machines import load_sheet, sheet_ids, sheet_text

MOWER = sheet_text("green-mower")


def lines_changed(before: str, after: str) -> int:
    return len(set(after.splitlines()) - set(before.splitlines())) + len(set(before.splitlines()) - set(after.splitlines()))


def test_a_plug_put_into_a_wire_lies_between_it_and_where_it_went() -> None:
    after = put_in(MOWER, "coil-wire", "Plug under the seat")
    sheet = read_sheet(after)
    plug = sheet.element("plug-under-the-seat")
    assert sheet.element("coil-wire").end == plug.start and plug.end == "sol.coil"  # type: ignore[union-attr]
    assert "charging" in after and lines_changed(MOWER, after) == 4  # the wire, the plug, the point


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_a_joint_can_be_put_beside_any_part_and_struck_out_again(sheet_id: str) -> None:
    text = sheet_text(sheet_id)
    elements = load_sheet(sheet_id).elements
    for element in elements[:: max(7, len(elements) // 5)]:
        if element.type in ("stator", "rectifier"):  # what lies between them is wire and plug alone
            continue
        after = put_in(text, element.id, "Joint found here", "joint")
        assert read_sheet(after).element("joint-found-here").type == "joint"
        back = read_sheet(strike_out(after, "joint-found-here"))
        assert {e.id for e in back.elements} == {e.id for e in load_sheet(sheet_id).elements}


def test_a_wire_in_two_halves_is_as_long_as_it_was() -> None:
    sheet = read_sheet(split(MOWER, "coil-wire"))
    near, far = sheet.element("coil-wire"), sheet.element("coil-wire-far")
    assert near.length_m + far.length_m == load_sheet("green-mower").element("coil-wire").length_m  # type: ignore[union-attr]
    assert near.end == far.start == "coil-wire.mid" and far.end == "sol.coil"  # type: ignore[union-attr]
    with pytest.raises(SheetError, match="f1: is no wire or cable"):
        split(MOWER, "f1")


def test_what_lay_in_line_is_joined_through() -> None:
    sheet = read_sheet(
        strike_out(MOWER, "seat-switch")
        .replace("  seat: {title: Seat, positions: [taken, empty]}\n", "")
        .replace(
            '  seatempty: {title: "Key to crank, seat empty", set: {key: crank, seat: empty}, minutes: 0.3, cautions: [interlock]}\n', ""
        )
    )
    assert sheet.element("coil-wire").start == "blade.out"  # type: ignore[union-attr]
    assert "seat.out" not in sheet.points


def test_what_hung_on_it_alone_goes_with_it() -> None:
    sheet = read_sheet(strike_out(MOWER, "hour-meter"))
    assert not {"hour-meter", "hour-wire"} & {e.id for e in sheet.elements} and "hour.feed" not in sheet.points


def test_one_of_two_ways_is_taken_out_and_the_other_stays() -> None:
    text = sheet_text("harbour-launch").replace(
        "  # charging\n",
        "  - {id: second-minus, type: cable, title: Second minus cable, from: block.eye, to: clamp.minus, mm2: 35, length_m: 2}\n  # charging\n",
    )
    assert read_sheet(strike_out(text, "second-minus")).element("minus-cable").end == "clamp.minus"  # type: ignore[union-attr]


def test_a_field_is_changed_where_it_stands() -> None:
    after = change(MOWER, "key-feed", "mm2", "2,5")
    assert read_sheet(after).element("key-feed").mm2 == 2.5 and lines_changed(MOWER, after) == 2  # type: ignore[union-attr]
    assert read_sheet(change(after, "key-feed", "awg", "12")).element("key-feed").mm2 is None  # type: ignore[union-attr]
    assert read_sheet(change(MOWER, "key-feed", "tags", "exposed aftermarket")).element("key-feed").tags == ["exposed", "aftermarket"]
    moved = read_sheet(change(MOWER, "f1", "from", "battery plus post"))
    assert moved.element("f1").start == "bat.plus"  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("name", "value", "told"),
    [
        ("mm2", "thick", "mm2 is a number"),
        ("from", "nowhere", "no point is called “nowhere”"),
        ("outputs", "x", "no field is called “outputs”"),
    ],
)
def test_what_cannot_be_taken_is_told(name: str, value: str, told: str) -> None:
    with pytest.raises(SheetError, match=told):
        change(MOWER, "key-feed", name, value)
    with pytest.raises(SheetError, match="no element is called “key-fed”; did you mean key-feed"):
        change(MOWER, "key-fed", "title", "x")


def test_two_points_are_joined_by_a_wire_that_is_named_after_where_it_leads() -> None:
    sheet = read_sheet(join(MOWER, "solenoid battery stud", "sol.coil"))
    assert [(e.title, e.start, e.end) for e in sheet.elements if e.id == "wire-to-solenoid-coil-tab"] == [
        ("Wire to solenoid coil tab", "sol.in", "sol.coil")
    ]  # type: ignore[union-attr]
    with pytest.raises(SheetError, match="both are the same"):
        join(MOWER, "sol.in", "sol.in")


def test_a_feed_that_the_drawing_lacks_leads_from_plus_to_where_the_part_leads() -> None:
    sheet = read_sheet(feed(MOWER, "coil-wire"))
    assert any(e.start == sheet.plus and e.end == "sol.coil" for e in sheet.elements if e.type == "wire")
    with pytest.raises(SheetError, match="leads to no point"):
        feed(sheet_text("crew-minibus"), next(e.id for e in load_sheet("crew-minibus").elements if e.type == "relay"))


def test_a_part_is_copied_between_its_points_under_a_name_of_its_own() -> None:
    sheet = read_sheet(copy(copy(MOWER, "coil-wire"), "f1", "Spare fuse"))
    again, spare = sheet.element("solenoid-wire-again"), sheet.element("spare-fuse")
    assert (again.start, again.end) == (sheet.element("coil-wire").start, "sol.coil") and spare.slot is None  # type: ignore[union-attr]


def test_a_fuse_is_put_at_its_place_in_the_box() -> None:
    assert read_sheet(change(MOWER, "f1", "place", "2, 3")).element("f1").place == (2, 3)  # type: ignore[union-attr]
    assert read_sheet(change(change(MOWER, "f1", "place", "2 3"), "f1", "place", "")).element("f1").place is None  # type: ignore[union-attr]
    with pytest.raises(SheetError, match="row and column"):
        change(MOWER, "f1", "place", "left")


def assumed_in(text: str) -> set[str]:
    return {e.id for e in read_sheet(text).elements if e.assumed}


def test_what_was_seen_is_no_longer_assumed_and_what_was_changed_neither() -> None:
    text = MOWER.replace("id: coil-wire,", "id: coil-wire, assumed: true,").replace("id: f1,", "id: f1, assumed: true,")
    assert assumed_in(text) == {"coil-wire", "f1"}
    assert assumed_in(seen(text, ["f1", "nowhere"])) == {"coil-wire"}
    longer = change(text, "coil-wire", "length_m", "2.7")
    assert assumed_in(longer) == {"coil-wire", "f1"} and assumed_in(changed_is_seen(longer, text)) == {"f1"}
    assert assumed_in(changed_is_seen(text, MOWER.replace("id: f1,", "id: f9,"))) == {"f1"}  # a part that is new here is as it says
    assert assumed_in(copy(text, "f1")) == {"coil-wire", "f1"}
