"""What is known of a battery, in words."""

from iron_probe.core.bench.battery.card import BatteryCard, Held
from iron_probe.core.bench.typed_value import Bound
from iron_probe.web.language import _
from iron_probe.web.words import percent


def holds(held: Held | None) -> str:
    """What a battery is shown to hold of its rating."""
    if held is None:
        return _("capacity not proven")
    told = {Bound.AT_LEAST: _("holds at least %s of its rating"), Bound.AT_MOST: _("holds at most %s of its rating")}
    return told.get(held.bound, _("holds %s of its rating")) % percent(held.share)


def reckoned_with(card: BatteryCard) -> str:
    """Which battery a forecast reckons with, and what of it nobody has measured."""
    charge = _("charge not measured, taken as full") if card.charge is None else _("%s charged") % percent(card.charge)
    return f"{charge}; {_('capacity not proven, taken as rated') if card.held is None else holds(card.held)}"
