"""What a measured loss does in the cold, wherever on the heavy path it was measured."""

import pytest

from iron_probe.core.bench.allowance import School
from iron_probe.core.bench.drop import DropReading
from iron_probe.core.bench.drop_board import drop_board
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import network_of
from iron_probe.machines import load_sheet, sheet_ids


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_a_loss_across_any_part_of_the_path_costs_cranking_volts(sheet_id: str) -> None:
    """A contact of a relay or solenoid on the path has no resistance of the element's own name: it took every page down."""
    sheet = load_sheet(sheet_id)
    path = heavy_path(network_of(sheet))
    places = [
        *zip(path.supply_points, path.supply_points[1:], strict=False),
        *zip(path.ground_points, path.ground_points[1:], strict=False),
    ]
    sound = drop_board(sheet, [], None, School.COMMON, Conditions(), -10).now.starter_v
    for red, black in places:
        lost = DropReading(number=1, red=red, black=black, drop_v=0.9, loaded=True)
        board = drop_board(sheet, [lost], None, School.COMMON, Conditions(), -10)
        assert board.now.starter_v <= sound + 1e-9
        assert board.stair or board.cold
