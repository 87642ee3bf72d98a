"""The way from lead to lead is the current's."""

from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.draw.way_between import way_between
from iron_probe.core.solve.operate import solve_state


def test_between_the_posts_it_goes_through_the_starter_and_at_a_coil_through_the_coil(minibus: Sheet) -> None:
    cranking = solve_state(network_of(minibus), "crank")
    assert "starter" in way_between(cranking, minibus.plus, minibus.minus)
    assert way_between(cranking, "relay.86", "relay.85") == way_between(cranking, "relay.85", "relay.86") == ("start-relay.coil",)


def test_where_nothing_flows_it_is_what_joins_them(minibus: Sheet) -> None:
    still = solve_state(network_of(minibus), "rest")
    assert way_between(still, "clutch.in", "clutch.out") == ("clutch-switch",)
    assert way_between(still, "clutch.in", "clutch.in") == ()
