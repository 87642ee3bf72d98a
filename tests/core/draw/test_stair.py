"""The stair of levels stays on its page and keeps the order of its points."""

import pytest

from iron_probe.core.bench.allowance import School
from iron_probe.core.bench.drop_board import StairStep, drop_board
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.stair import draw_stair


@pytest.fixture(scope="module")
def steps(minibus: Sheet) -> tuple[tuple[StairStep, ...], int]:
    board = drop_board(minibus, [], None, School.COMMON, Conditions(), -10.0)
    return tuple(board.stair), len(board.sides[0].points)


def test_all_lines_lie_on_the_page_from_left_to_right(steps: tuple[tuple[StairStep, ...], int]) -> None:
    picture = draw_stair(*steps)
    for strip in (*picture.expected, *picture.cold, *picture.ribbon):
        assert all(0 <= x <= 1 and -0.05 <= y <= 1.05 for x, y in strip)
    for strip in picture.expected:
        assert [x for x, _ in strip] == sorted(x for x, _ in strip)


def test_the_two_sides_are_cut_where_the_load_sits(steps: tuple[tuple[StairStep, ...], int]) -> None:
    picture = draw_stair(*steps)
    assert picture.expected[0][-1][0] == pytest.approx(picture.split_x) == pytest.approx(picture.expected[1][0][0])
    assert picture.load_v > 5 and not picture.dots
