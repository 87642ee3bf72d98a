"""A circuit taken apart into tracks: all of it once, downward, and in the order of the feed."""

import pytest

from bench.grown_sheets import grown
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import build_network, network_of
from iron_probe.core.draw.tracks import LONGEST, source_of, take_apart
from iron_probe.machines import load_sheet, sheet_ids


@pytest.mark.parametrize("sheet", [*(load_sheet(s) for s in sheet_ids()), *(grown(k, 120) for k in range(6))], ids=lambda s: s.id)
def test_every_branch_is_taken_once_and_tracks_are_short(sheet) -> None:  # type: ignore[no-untyped-def]
    network = build_network(sheet)
    heavy = heavy_path(network)
    tracks = [t for rail in take_apart(network, heavy) for track in rail.tracks for t in track.whole()]
    along = [network.branch_row[name] for name in (*heavy.supply, heavy.load, *heavy.ground)]
    assert sorted([*(n for t in tracks for n in t.branches), *along, *source_of(network, heavy)[1]]) == list(range(len(network.branches)))
    assert max(t.row + len(t.branches) for t in tracks) <= LONGEST + 1
    for t in tracks:
        for a, b, number in zip(t.points, t.points[1:], t.branches, strict=False):
            assert {a, b} == {network.branches[number].start, network.branches[number].end}


def test_the_command_runs_from_its_fuse_down_to_the_relay_and_the_contact_to_the_solenoid() -> None:
    network = network_of(load_sheet("crew-minibus"))
    tracks = [t.points for rail in take_apart(network, heavy_path(network)) for track in rail.tracks for t in track.whole()]
    assert any(
        t.index("key.feed") < t.index("key.crank") < t.index("relay.86") for t in tracks if {"key.feed", "key.crank", "relay.86"} <= set(t)
    )
    assert any(
        t.index("relay.30") < t.index("relay.87") < t.index("starter.S") for t in tracks if {"relay.30", "relay.87", "starter.S"} <= set(t)
    )


def test_batteries_in_series_are_one_source() -> None:
    network = network_of(load_sheet("quay-digger"))
    points, numbers = source_of(network, heavy_path(network))
    assert (points[0], points[-1]) == (network.sheet.plus, network.sheet.minus)
    assert sum(network.owners[n].type == "battery" for n in numbers) == 2
