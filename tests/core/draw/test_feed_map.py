"""The drawing: every point and branch placed, nothing on top of another."""

import pytest

from iron_probe.core.circuit.network import build_network
from iron_probe.core.draw.feed_map import lay_out
from iron_probe.machines import load_sheet, sheet_ids


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_map_is_complete_and_points_are_apart(sheet_id: str) -> None:
    network = build_network(load_sheet(sheet_id))
    drawing = lay_out(network)
    assert {p.id for p in drawing.points} == set(network.points)
    assert {b.id for b in drawing.branches} == set(network.branch_row)
    places = [(p.x, p.y) for p in drawing.points]
    for k, (x, y) in enumerate(places):
        assert all(abs(x - u) + abs(y - v) > 0.4 for u, v in places[:k]), drawing.points[k].id
    where = {p.id: (p.x, p.y) for p in drawing.points}
    for branch, drawn in zip(network.branches, drawing.branches, strict=True):
        assert {drawn.line[0], drawn.line[-1]} == {where[branch.start], where[branch.end]}


def test_supply_above_ground_below() -> None:
    drawing = lay_out(build_network(load_sheet("crew-minibus")))
    side = {p.id: (p.side, p.y) for p in drawing.points}
    assert side["front.stud"] == ("supply", 0.0)
    assert side["block"] == ("ground", drawing.rows)
    assert 0 < side["relay.86"][1] < drawing.rows
