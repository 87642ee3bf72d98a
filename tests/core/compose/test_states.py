"""States and controls edited."""

import pytest

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.compose.edits import change
from iron_probe.core.compose.sheet_text import SheetText
from iron_probe.core.compose.states import add_control, add_state, set_position
from iron_probe.core.errors import SheetError
from iron_probe.machines import sheet_text

MOWER = sheet_text("green-mower")


def test_a_control_is_set_in_a_state_and_back_at_rest_it_is_not_named() -> None:
    once = set_position(MOWER, "run", "seat", "empty")
    assert read_sheet(once).states["run"].set == {"key": "run", "seat": "empty"}
    again = set_position(once, "run", "seat", "taken")
    assert read_sheet(again).states == read_sheet(MOWER).states
    assert list(read_sheet(again).states) == list(read_sheet(MOWER).states)


def test_a_new_state_begins_as_another_and_a_new_control_at_rest() -> None:
    assert read_sheet(add_state(MOWER, "Key on, lamp on", "run")).states["key-on-lamp-on"].set == {"key": "run"}
    controls = SheetText(add_control(add_control(MOWER, "Lamp switch"), "Throttle", "slow, half, full")).entries("controls")
    assert controls["lamp-switch"]["positions"] == ["off", "on"] and controls["throttle"]["positions"] == ["slow", "half", "full"]


def test_a_switch_is_made_to_listen_to_a_new_control() -> None:
    made = read_sheet(change(add_control(MOWER, "Lamp switch"), "seat-switch", "closed_in", "lamp-switch: on; seat: taken"))
    assert made.element("seat-switch").closed_in == {"lamp-switch": ["on"], "seat": ["taken"]}  # type: ignore[union-attr]
    with pytest.raises(SheetError, match="such as “key: run crank”"):
        change(MOWER, "seat-switch", "closed_in", "taken")


def test_what_there_is_not_is_told() -> None:
    for told, edit in (
        ("no position is called “half”", lambda: set_position(MOWER, "run", "seat", "half")),
        ("no state is called", lambda: set_position(MOWER, "runn", "seat", "empty")),
        ("no control is called", lambda: set_position(MOWER, "run", "sea", "empty")),
        ("needs a name", lambda: add_state(MOWER, " ", "run")),
        ("no state is called", lambda: add_state(MOWER, "x", "rum")),
        ("two positions", lambda: add_control(MOWER, "Throttle", "slow")),
    ):
        with pytest.raises(SheetError, match=told):
            edit()
