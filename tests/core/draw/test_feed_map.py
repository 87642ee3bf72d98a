"""The feed map of any sheet: all of it placed, nothing over anything else, steady, and quick."""

from itertools import pairwise

import pytest

from bench.grown_sheets import grown
from bench.plate_boxes import clashes
from iron_probe.core.circuit.network import branch_id, build_network, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.draw.feed_map import FeedMap, lay_out
from iron_probe.core.draw.what_matters import needed
from iron_probe.machines import load_sheet, sheet_ids


def folded(sheet: Sheet, work: Scope) -> FeedMap:
    network, wanted = network_of(sheet), needed(sheet, work)
    return lay_out(network, lambda track: any(network.owners[n].id in wanted for n in track.branches))


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_every_point_has_one_home_and_nothing_lies_over_anything(sheet_id: str) -> None:
    network = network_of(load_sheet(sheet_id))
    drawing = lay_out(network)
    assert sorted(p.id for p in drawing.points if not p.again) == sorted(network.points)
    assert sorted(b.id for b in drawing.branches) == sorted(network.branch_row)
    assert clashes(drawing) == []
    places = {}
    for p in drawing.points:
        places.setdefault(p.id, []).append((p.x, p.y))
    for b in drawing.branches:  # every branch runs from a place of one of its ends to a place of the other, along the page or down it
        branch = network.branches[network.branch_row[b.id]]
        ends = {branch.start, branch.end}
        assert {e for e in ends if b.line[-1] in places[e]} and {e for e in ends if any(y == b.line[0][1] for _, y in places[e])}
        assert all(p[0] == q[0] or p[1] == q[1] for p, q in pairwise(b.line))


@pytest.mark.parametrize("work", Scope)
@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_a_folded_map_holds_every_point_drawn_or_a_tap_away(sheet_id: str, work: Scope) -> None:
    sheet = load_sheet(sheet_id)
    drawing = folded(sheet, work)
    assert {p.id for p in drawing.points} | {p for s in drawing.stubs for p in s.points} == set(sheet.points)
    assert clashes(drawing) == []
    assert drawing.width <= lay_out(network_of(sheet)).width


@pytest.mark.parametrize("seed", range(8))
def test_sheets_grown_at_random_are_drawn_as_well(seed: int) -> None:
    sheet = grown(seed, 60 + 20 * seed)
    drawing = lay_out(build_network(sheet))
    assert sorted(p.id for p in drawing.points if not p.again) == sorted(sheet.points)
    assert clashes(drawing) == []


def test_supply_runs_along_the_top_and_the_way_back_along_the_bottom() -> None:
    drawing = lay_out(network_of(load_sheet("crew-minibus")))
    top, bottom = drawing.rails
    place = {p.id: p for p in drawing.points if not p.again}
    assert place["front.stud"].y == top and place["block"].y == bottom
    assert top < place["relay.86"].y <= bottom
    feed = [place[p].x for p in ("battery.plus", "front.stud", "starter.B") if p in place]
    assert feed == sorted(feed)


def test_a_part_put_in_moves_its_track_and_what_lies_behind_it_alone(minibus: Sheet) -> None:
    network = network_of(minibus)
    before = {b.id: b.middle for b in lay_out(network).branches}
    last = max(before, key=lambda name: before[name][0])
    wire = next(e for e in minibus.elements if e.id == last.partition(".")[0])
    changed = minibus.changed(elements=[e.model_copy(update={"title": e.title + " anew"}) if e is wire else e for e in minibus.elements])
    after = {b.id: b.middle for b in lay_out(build_network(changed)).branches}
    assert {name for name in before if before[name] != after[name]} <= {branch_id(wire, b) for b in wire.branches()}
