"""Cells of a pasted table."""

import pytest

from iron_probe.core.compose.cells import cells_of, figure_of, is_formula


def test_the_widest_separator_parts_a_row() -> None:
    assert cells_of('F1\t"Mirrors, heated"\t7,5') == ["F1", "Mirrors, heated", "7,5"]
    assert cells_of("F1; 7,5 ;Horn") == ["F1", "7,5", "Horn"]
    assert cells_of("F1, 7.5,Horn") == ["F1", "7.5", "Horn"]


@pytest.mark.parametrize(("cell", "formula"), [("=A1", True), ("@x", True), ("-1", True), ("-", False), ("Horn", False), ("", False)])
def test_a_formula_is_told_from_a_dash(cell: str, formula: bool) -> None:
    assert is_formula(cell) is formula


def test_figures_with_point_or_comma() -> None:
    assert figure_of(" 2,5 ") == 2.5 and figure_of("2.5") == 2.5 and figure_of("thick") is None and figure_of("1.2.3") is None
