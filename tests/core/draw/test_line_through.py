"""A found part stands in its line, whatever part of whatever machine it is."""

from itertools import pairwise

import pytest

from iron_probe.core.circuit.network import network_of
from iron_probe.core.draw.line_through import NEAR, line_through
from iron_probe.machines import load_sheet, sheet_ids


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_every_part_is_in_its_own_line_and_the_line_is_short(sheet_id: str) -> None:
    network = network_of(load_sheet(sheet_id))
    for element in network.sheet.elements:
        line = line_through(network, (element.id,))
        assert element.id in line
        assert len(line) == len(set(line)) <= 2 * NEAR + 2


def test_a_joint_of_the_heavy_way_lies_between_its_neighbours() -> None:
    network = network_of(load_sheet("crew-minibus"))
    line = line_through(network, ("isolator",))
    assert line.index("isolator") not in (0, len(line) - 1)
    for one, other in pairwise(line):
        assert set(network.sheet.element(one).points()) & set(network.sheet.element(other).points())


def test_a_way_of_several_parts_stands_whole() -> None:
    network = network_of(load_sheet("crew-minibus"))
    line = line_through(network, ("isolator",))
    at = line.index("isolator")
    way = line[at : at + 2]
    assert set(way) <= set(line_through(network, way))
