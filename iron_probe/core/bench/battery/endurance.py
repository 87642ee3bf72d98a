"""How long a battery lasts under a draw before this engine no longer starts, and the draw that would explain a given time."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from iron_probe.core.bench.battery.capacity import left_by_cold
from iron_probe.core.bench.drop_board import cranks
from iron_probe.core.bench.margin import crank_margins
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import EMPTY_CHARGE, EXPLAINS_WITHIN, SELF_DISCHARGE_PER_DAY

STEPS = 41


@dataclass(frozen=True, slots=True, kw_only=True)
class Endurance:
    """`no_start_charge` 0..1 below which the engine does not turn fast enough; `usable_ah` from now down to it; `hours` until then;
    `curve` of (hours, charge); `good_ah` what a full, sound battery of that rating would have."""

    no_start_charge: float
    usable_ah: float
    good_ah: float
    hours: float
    curve: tuple[tuple[float, float], ...]


def no_start_charge(sheet: Sheet, temp_degc: float) -> float:
    """The least state of charge 0..1 at which the sound machine still starts at a temperature [°C]: the solver cranks it at each. Where
    there is nothing to crank, EMPTY_CHARGE."""
    if not cranks(sheet):
        return EMPTY_CHARGE
    charges = np.linspace(0, 1, STEPS)
    margins = crank_margins(sheet, [Conditions(temp_degc=temp_degc, charge=float(c)) for c in charges], {})
    starts = [c for c, m in zip(charges, margins, strict=True) if m.starts]
    return float(min(starts, default=1.0))


def capacity_at(rated_ah: float, share_left: float, temp_degc: float) -> float:
    """Amp-hours a block holds at a temperature, given the share of its rating it has left at 25 °C."""
    return rated_ah * share_left * left_by_cold(temp_degc)


def rated_ah(sheet: Sheet) -> float:
    """Amp-hours of the whole set on the sheet: of blocks in series one, of those in parallel their sum."""
    batteries = sheet.batteries
    series = {b.start for b in batteries} & {b.end for b in batteries}
    return (
        batteries[0].capacity_ah if series or sum(b.volts for b in batteries) == sheet.system_v else sum(b.capacity_ah for b in batteries)
    )


def endurance(sheet: Sheet, draw_a: float, charge: float, share_left: float, temp_degc: float) -> Endurance:
    """Work it out for a steady draw [A]; `charge` 0..1 now, `share_left` of the rated capacity. ReadingError for a draw that is none."""
    if not 0 < draw_a <= 500:
        raise ReadingError("The draw must be above zero and at most 500 A; type it with its unit, such as 220 mA.")
    least = no_start_charge(sheet, temp_degc)
    whole = capacity_at(rated_ah(sheet), share_left, temp_degc)
    own_a = SELF_DISCHARGE_PER_DAY * whole / 24
    usable = max(charge - least, 0.0) * whole
    hours = usable / (draw_a + own_a)
    span = max(hours * 1.3, 1e-3)
    curve = tuple((float(h), float(max(charge - h * (draw_a + own_a) / whole, 0.0))) for h in np.linspace(0, span, 40))
    good = max(1.0 - least, 0.0) * capacity_at(rated_ah(sheet), 1.0, temp_degc)
    return Endurance(no_start_charge=least, usable_ah=usable, good_ah=good, hours=hours, curve=curve)


def draw_that_explains(sheet: Sheet, hours: float, charge: float, share_left: float, temp_degc: float) -> tuple[float, float]:
    """Steady draw [A] that brings this battery, and a full sound one, to no-start in `hours`; ReadingError for no time."""
    if not 0 < hours <= 24 * 365:
        raise ReadingError("The time until it was dead must be above zero and at most a year; type hours, such as 9.")
    at = endurance(sheet, 1.0, charge, share_left, temp_degc)
    return at.usable_ah / hours, at.good_ah / hours


def explains(usable_ah: Sequence[float], draw_a: float, hours: float) -> list[bool]:
    """Whether a draw empties each of some usable amp-hours in about the time complained of."""
    return [hours / EXPLAINS_WITHIN <= u / draw_a <= hours * EXPLAINS_WITHIN for u in usable_ah]
