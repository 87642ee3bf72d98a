"""Currents as they were taken."""

from iron_probe.core.bench.drain.amps_read import Interval
from iron_probe.core.bench.drain.currents import Taken, Way
from iron_probe.core.bench.drain.feed_tree import feed_tree
from iron_probe.core.circuit.network import network_of
from iron_probe.machines import load_sheet

SHUTTLE = feed_tree(network_of(load_sheet("lift-shuttle")))


def taken(number: int, where: str, milliamperes: float, way: Way = Way.DROP, room: float = 0.1, part_of: bool = False) -> Taken:
    a = milliamperes / 1000
    amps = Interval(low=a * (1 - room), best=a, high=a * (1 + room) + 0.002)
    return Taken(number=number, where=where, way=way, amps=amps, part_of=part_of)
