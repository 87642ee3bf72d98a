import networkx as nx
import pytest

from iron_probe.core.circuit.wiring import joined_to, passed, wiring_of
from iron_probe.machines import load_sheet


def test_the_way_between_two_points_names_what_it_passes_in_order() -> None:
    ways = wiring_of(load_sheet("parcel-van"))
    assert passed(ways, "ecu.bus", "alt.bus") == ("bus-wire", "bus-splice")
    assert passed(ways, "alt.bus", "fan.bus") == ("bus-splice", "fan-bus-wire")
    assert passed(ways, "alt.bus", "alt.bus") == ()


def test_fuses_and_switches_part_the_metal() -> None:
    ways = wiring_of(load_sheet("green-mower"))
    assert set(joined_to(ways, "key.B")) == {"f1.out", "key.B"}
    with pytest.raises(nx.NetworkXNoPath):
        passed(ways, "sol.in", "key.B")
