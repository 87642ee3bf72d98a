"""What is known of a battery, in words."""

import pytest

from iron_probe.core.bench.battery.card import BatteryCard, Held
from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.web import battery_words


@pytest.mark.parametrize(
    ("held", "told"),
    [
        (None, "capacity not proven"),
        (Held(share=0.42, bound=Bound.EXACT), "holds 42 % of its rating"),
        (Held(share=0.82, bound=Bound.AT_LEAST), "holds at least 82 % of its rating"),
        (Held(share=0.3, bound=Bound.AT_MOST), "holds at most 30 % of its rating"),
    ],
)
def test_what_it_holds_tells_its_bound(held: Held | None, told: str) -> None:
    assert battery_words.holds(held) == told


def test_a_forecast_says_what_nobody_measured(minibus: Sheet) -> None:
    card = BatteryCard(sheet=minibus, battery=minibus.batteries[0], temp_degc=20.0)
    assert battery_words.reckoned_with(card) == "charge not measured, taken as full; capacity not proven, taken as rated"
    card.charge, card.held = 0.6, Held(share=0.5, bound=Bound.EXACT)
    assert battery_words.reckoned_with(card) == "60 % charged; holds 50 % of its rating"
