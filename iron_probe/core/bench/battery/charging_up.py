"""Charging a battery up: amps, amp-hours to put back, hours by charger, and when to measure again."""

from dataclasses import dataclass

from iron_probe.core.circuit.battery import Chemistry
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import CHARGED_REST_HOURS, CHARGER_BULK_SHARE
from iron_probe.core.phrase import Phrase

EFFICIENCY: dict[Chemistry, float] = {"flooded": 0.85, "agm": 0.92, "gel": 0.9, "lifepo4": 0.98}
"""Amp-hours given back of those put in (common practice)."""
MOST_SHARE: dict[Chemistry, float] = {"flooded": 0.2, "agm": 0.3, "gel": 0.15, "lifepo4": 0.5}
"""Charge current as a share of the 20 h rating that the chemistry takes (datasheets, from memory; the maker's figure comes first)."""
TAPER_HOURS: dict[Chemistry, float] = {"flooded": 4.0, "agm": 3.0, "gel": 4.0, "lifepo4": 0.5}
"""Hours the last fifth takes whatever the charger (common practice)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargePlan:
    """`amps` to set, `most_a` the chemistry takes, `put_back_ah` to bring in, `hours` on the charger, `measure_hours` until the figure counts."""

    amps: float
    most_a: float
    put_back_ah: float
    hours: float
    measure_hours: float
    caution: str


def plan_charge(charge: float, rated_ah: float, share_left: float, chemistry: Chemistry, charger_a: float) -> ChargePlan:
    """Plan for a block at `charge` 0..1 with `share_left` of `rated_ah` on a charger of `charger_a` [A]; ReadingError for no charger."""
    if not 0 < charger_a <= 400:
        raise ReadingError("Give the charger's current in amps, above zero and at most 400, such as 10.")
    whole = rated_ah * share_left
    most = MOST_SHARE[chemistry] * rated_ah
    amps = min(charger_a, most)
    missing = max(1 - charge, 0.0) * whole / EFFICIENCY[chemistry]
    bulk = max(CHARGER_BULK_SHARE - charge, 0.0) * whole / EFFICIENCY[chemistry] / amps
    taper = max(TAPER_HOURS[chemistry] * min(1.0, (1 - charge) / (1 - CHARGER_BULK_SHARE)), (missing - bulk * amps) / amps)
    caution = (
        Phrase("Ventilate, no sparks, charger off before the clips.")
        if chemistry != "lifepo4"
        else Phrase("Charger for this chemistry only; not below 0 °C.")
    )
    hours = bulk + taper
    return ChargePlan(amps=amps, most_a=most, put_back_ah=missing, hours=hours, measure_hours=hours + CHARGED_REST_HOURS, caution=caution)
