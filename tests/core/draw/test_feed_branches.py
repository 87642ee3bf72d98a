"""The feed tree as it is drawn."""

import pytest

from iron_probe.core.bench.drain.currents import solve_currents
from iron_probe.core.bench.drain.feed_tree import feed_tree
from iron_probe.core.circuit.network import network_of
from iron_probe.core.draw.feed_branches import LEAST_W, MOST_W, draw_feed
from iron_probe.machines import load_sheet


@pytest.mark.parametrize("sheet_id", ["pool-car", "ferry-van"])
def test_feeders_stand_left_of_what_they_feed_and_widths_keep_their_bounds(sheet_id: str) -> None:
    tree = feed_tree(network_of(load_sheet(sheet_id)))
    drawn = draw_feed(tree, solve_currents(tree, []), frozenset(), 0.05)
    assert drawn.branches and all(LEAST_W <= b.width <= MOST_W for b in drawn.branches)
    assert len({(b.column, b.row) for b in drawn.branches}) == len(drawn.branches)
    assert max(b.column for b in drawn.branches) < drawn.columns and max(b.row for b in drawn.branches) <= drawn.rows
