from math import asinh

from iron_probe.core.circuit.elements import Battery
from iron_probe.rig.block import Block

BATTERY = Battery.model_validate(
    {"id": "b", "type": "battery", "title": "Battery", "from": "minus", "to": "plus", "capacity_ah": 60, "cca_a": 540}
)


def test_polarisation_takes_its_time() -> None:
    block = Block(charge=0.95)
    at_once, after = (block.lag_v(BATTERY, s) for s in (0.0, 1.0))
    assert 0.15 < (after - at_once) * asinh(140 / 27) < 0.8  # volts a starter draws beyond the first instant


def test_flat_and_cold_is_worse_than_either() -> None:
    good, flat, cold, both = (Block(charge=c).ohm(BATTERY, t) for c, t in ((1, 20), (0.2, 20), (1, -15), (0.2, -15)))
    assert both > flat > good
    assert both > cold > good


def test_what_it_takes_falls_as_it_fills_and_in_the_cold() -> None:
    assert 20 < Block(charge=0.1).takes_a(BATTERY, 20) < 60
    assert 1 < Block(charge=1.0).takes_a(BATTERY, 20) < 3
    assert Block(charge=0.1).takes_a(BATTERY, -15) < Block(charge=0.1).takes_a(BATTERY, 20) / 2
    assert Block(charge=0.5, frozen=True).takes_a(BATTERY, -15) < 0.1


def test_a_dead_cell_and_a_deep_one_by_their_rest_volts() -> None:
    assert 10.2 < Block(charge=1.0, dead_cells=1).rest_v(BATTERY, 20) < 10.8
    assert Block(charge=0.02, flat_v=3.0).rest_v(BATTERY, 20) == 3.0
