"""Drawn once, marked per page."""

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.web.bench.drawing import chosen, ink_of, map_of, options_of, points_of, polyline


def test_one_option_is_chosen_and_titles_are_escaped(minibus: Sheet) -> None:
    options = options_of(minibus, "test", [("a", "A <b>"), ("ab", "AB")])
    assert "A &lt;b&gt;" in options
    assert chosen(options, "ab").count("selected") == 1 and '<option value="ab" selected' in chosen(options, "ab")
    assert "selected" not in chosen(options, "gone")


def test_a_line_lies_in_its_rectangle() -> None:
    assert polyline(((0.0, 0.0), (1.0, 1.0)), (10, 20, 100, 50)) == "10.0,20.0 110.0,70.0"


def test_ink_changes_with_the_state_and_points_do_not(minibus: Sheet) -> None:
    assert ink_of(minibus, "rest") != ink_of(minibus, "crank") == ink_of(minibus, "crank")
    drawn = points_of(minibus)
    assert [p.id for p in map_of(minibus).points if f'"{p.id}"' not in drawn] == []
