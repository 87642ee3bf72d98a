"""What is known of a battery, in words."""

from iron_probe.core.bench.battery.card import BatteryCard, Held
from iron_probe.core.bench.typed_value import Bound
from iron_probe.web.words import percent


def holds(held: Held | None) -> str:
    """What a battery is shown to hold of its rating."""
    if held is None:
        return "capacity not proven"
    bound = {Bound.AT_LEAST: "at least ", Bound.AT_MOST: "at most "}.get(held.bound, "")
    return f"holds {bound}{percent(held.share)} of its rating"


def reckoned_with(card: BatteryCard) -> str:
    """Which battery a forecast reckons with, and what of it nobody has measured."""
    charge = "charge not measured, taken as full" if card.charge is None else f"{percent(card.charge)} charged"
    return f"{charge}; {holds(card.held)}{', taken as rated' if card.held is None else ''}"
