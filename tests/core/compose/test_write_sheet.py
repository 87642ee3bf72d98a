"""Composed sheets as text."""

from iron_probe.blocks import pattern_book
from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.compose.compose import compose

BOOK = pattern_book()


def test_the_text_is_the_sheet_a_part_a_line() -> None:
    composed = compose(BOOK, {"kind": "van"}, title="Van “4”: blue")
    assert read_sheet(composed.text) == composed.sheet and composed.sheet.title == "Van “4”: blue"
    lines = composed.text.splitlines()
    assert len([line for line in lines if line.startswith("  - {id: ")]) == len(composed.sheet.elements)


def test_positions_a_control_does_not_have_are_left_out() -> None:
    key = compose(BOOK, {"kind": "motorcycle", "sleeps": "Clock, 1 mA"}).sheet
    assert key.controls["key"].positions == ["off", "run"]
    assert key.element("key-run-pole").closed_in == {"key": ["run"]}  # type: ignore[union-attr]
