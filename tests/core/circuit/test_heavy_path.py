"""The way of the starter's current."""

import pytest

from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import network_of
from iron_probe.core.errors import SolveError
from iron_probe.core.whole_sheet import read_whole_sheet
from iron_probe.machines import load_sheet, sheet_ids
from tests.odd_sheets import odd_sheets

ODD = odd_sheets()


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_the_path_runs_from_plus_over_the_load_to_minus_without_a_gap(sheet_id: str) -> None:
    network = network_of(load_sheet(sheet_id))
    path = heavy_path(network)
    load = network.branches[network.find_branch(path.load)]
    assert path.supply_points[0] == network.sheet.plus and path.ground_points[-1] == network.sheet.minus
    assert path.supply_points[-1] in (load.start, load.end) and path.ground_points[0] in (load.start, load.end)
    for names, points in ((path.supply, path.supply_points), (path.ground, path.ground_points)):
        for name, a, b in zip(names, points, points[1:], strict=False):
            branch = network.branches[network.find_branch(name)]
            assert {branch.start, branch.end} == {a, b}


@pytest.mark.parametrize("name", ODD)
def test_a_machine_without_a_starter_has_a_heaviest_load_all_the_same(name: str) -> None:
    sheet = read_whole_sheet(ODD[name])
    try:
        path = heavy_path(network_of(sheet))
    except SolveError as error:
        pytest.fail(str(error))
    assert path.load and path.cranked == (sheet.cranking_state() is not None)
