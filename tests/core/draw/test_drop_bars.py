"""Dimension lines of drops lie beside their stretch and never over each other."""

import pytest

from iron_probe.core.bench.allowance import School
from iron_probe.core.bench.drop import DropReading
from iron_probe.core.bench.drop_board import drop_board
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.drop_bars import drop_bars
from iron_probe.core.draw.feed_map import lay_out


def test_lines_of_one_level_do_not_overlap_and_the_newest_stands(minibus: Sheet) -> None:
    board = drop_board(minibus, [], None, School.COMMON, Conditions(), -10.0)
    points = board.sides[0].points
    pairs = [(0, 1), (1, 2), (0, 2), (0, len(points) - 1), (0, 1)]
    readings = [
        DropReading(number=k, red=points[a], black=points[b], drop_v=0.05 * k, loaded=True, amps=None, crank=k)
        for k, (a, b) in enumerate(pairs, 1)
    ]
    drawn = drop_board(minibus, readings, None, School.COMMON, Conditions(), -10.0)
    bars = drop_bars(lay_out(network_of(minibus)), drawn.judged, drawn.sides)
    assert len(bars) == 4
    assert next(b.judged.reading.number for b in bars if (b.judged.first, b.judged.last) == (0, 1)) == 5
    for a in bars:
        assert a.x1 <= a.filled_x <= a.x2 or a.filled_x == pytest.approx(a.x1)
        for b in bars:
            assert a is b or a.y != b.y or a.x2 <= b.x1 or b.x2 <= a.x1
