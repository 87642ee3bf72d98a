"""Rest voltage: is it at rest, how much charge belongs to it, and do two blocks of a set agree."""

from dataclasses import dataclass

from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.core.circuit.battery import OPEN_CIRCUIT_V, Chemistry, state_of_charge
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import (
    CELL_LOST_SHARE,
    REST_BLEED_MINUTES,
    REST_BLEED_PAUSE_MINUTES,
    REST_LEAST_V,
    REST_MOST_V,
    REST_READ_V,
    REST_SERIES_APART_V,
    REST_SURFACE_HOURS,
    RETEST_CHARGE,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class RestCheck:
    """A rest reading of one 12 V block: `rest_v` [V], `temp_degc` [°C], `hours_since` it was last charged or driven (None: unknown),
    whether it was `bled` by the headlamps and rested, whether a `charger` is connected, whether it was `charged` before until it took no more."""

    rest_v: float
    temp_degc: float
    chemistry: Chemistry
    hours_since: float | None = None
    bled: bool = False
    charger: bool = False
    charged: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class RestResult:
    """State of charge 0..1 with the interval the reading leaves, or None while the figure may flatter or where a cell is lost (`cell_lost`)."""

    charge: float | None
    low: float
    high: float
    judged: Judged
    cell_lost: bool = False


def judge_rest(check: RestCheck) -> RestResult:
    """Turn a rest reading into a state of charge; ReadingError when no 12 V block can read so."""
    if not REST_LEAST_V <= check.rest_v <= REST_MOST_V:
        raise ReadingError(
            f"{check.rest_v:.2f} V is no rest voltage of a 12 V block ({REST_LEAST_V:g} to {REST_MOST_V:g} V). Check range and leads; of two in series enter each by itself."
        )
    table = f"{check.chemistry} by rest voltage, {check.temp_degc:.0f} °C"
    source = "hydrometer steps through an electrolyte model (docs/method/battery.md); AGM, gel and LiFePO4 common practice"
    low, mid, high = (state_of_charge(check.chemistry, check.rest_v + d, check.temp_degc) for d in (-REST_READ_V, 0.0, REST_READ_V))
    if check.charger:
        return RestResult(
            charge=None, low=0, high=1,
            judged=Judged(verdict=Verdict.OPEN, text="A charger or maintainer is connected: the figure is the charger's, not the battery's.",
                          limit=table, source=source, next_step="Take the charger off, bleed the surface charge, rest, read again."),
        )  # fmt: skip
    if check.charged and check.rest_v <= OPEN_CIRCUIT_V[check.chemistry][-1] - CELL_LOST_SHARE * cell_volts(check.chemistry):
        return RestResult(charge=None, low=0, high=0, judged=_cell_lost(check, source), cell_lost=True)
    flatters = check.rest_v > OPEN_CIRCUIT_V[check.chemistry][-1] + 0.1
    if not check.bled and (flatters or (check.hours_since is not None and check.hours_since < REST_SURFACE_HOURS)):
        why = "it reads above full" if flatters else f"it was charged or driven {check.hours_since:g} h ago"
        return RestResult(
            charge=None, low=0, high=high,
            judged=Judged(verdict=Verdict.OPEN, text=f"Surface charge flatters this figure: {why}. At most {100 * high:.0f} % charged.", limit=table, source=source,
                          next_step=f"Headlamps on for {REST_BLEED_MINUTES:g} min, off, rest {REST_BLEED_PAUSE_MINUTES:g} min, read again."),
        )  # fmt: skip
    verdict = Verdict.GOOD if low >= RETEST_CHARGE - 0.05 else Verdict.WEAK if mid > 0.4 else Verdict.BAD
    words = f"{100 * mid:.0f} % charged ({100 * low:.0f} % to {100 * high:.0f} %)."
    if check.chemistry == "lifepo4" and 0.1 < mid < 0.95:
        words += " This chemistry is flat between: the figure says little; count amp-hours."
    if verdict is not Verdict.GOOD:
        words += " Low charge condemns nothing: recharge, then judge."
    return RestResult(
        charge=mid, low=low, high=high,
        judged=Judged(verdict=verdict, text=words, limit=table, source=source,
                      next_step="" if verdict is Verdict.GOOD else "Recharge, rest, and read again before any load or capacity test."),
    )  # fmt: skip


def cell_volts(chemistry: Chemistry) -> float:
    """Volts [V] of one full cell of a 12 V block: six of lead-acid, four of lithium."""
    return OPEN_CIRCUIT_V[chemistry][-1] / (4 if chemistry == "lifepo4" else 6)


def _cell_lost(check: RestCheck, source: str) -> Judged:
    full, cell = OPEN_CIRCUIT_V[check.chemistry][-1], cell_volts(check.chemistry)
    return Judged(
        verdict=Verdict.BAD,
        text=f"{check.rest_v:.2f} V at rest after a full charge: a cell is lost. The others give {full - cell:.1f} V, all of them {full:.1f} V.",
        limit=f"{CELL_LOST_SHARE:g} of a cell ({cell:.2f} V) under full, after a full charge", source=source,
        next_step="Renew it. Charge on its own boils the cells that are left: take the charger off.",
    )  # fmt: skip


def judge_series(first_v: float, second_v: float) -> Judged:
    """Two 12 V blocks in series at rest [V]: the difference between them."""
    apart = abs(first_v - second_v)
    limit = f"{REST_SERIES_APART_V:g} V between the two at rest"
    weaker = "first" if first_v < second_v else "second"
    if apart <= REST_SERIES_APART_V:
        return Judged(verdict=Verdict.GOOD, text=f"{apart:.2f} V apart: they match.", limit=limit, source="common practice, no source")
    return Judged(
        verdict=Verdict.BAD, text=f"{apart:.2f} V apart: the {weaker} is behind. In series the weaker limits both and is driven hardest.",
        limit=limit, source="common practice, no source",
        next_step="Charge each by itself and read both again; still apart, test the weaker and renew the two together.",
    )  # fmt: skip


def judge_parallel(first_v: float, second_v: float, joined: bool) -> Judged:
    """Two 12 V blocks in parallel at rest [V]; `joined` when relay or isolator between them is closed."""
    apart = abs(first_v - second_v)
    if joined:
        good = apart < 0.05
        return Judged(
            verdict=Verdict.GOOD if good else Verdict.BAD,
            text=f"{apart:.2f} V apart while joined: " + ("the joint between them holds." if good else "something between them loses it; measure the stretch."),
            limit="50 mV while joined", source="common practice, no source",
            next_step="" if good else "Drop from post to post with a load on.",
        )  # fmt: skip
    return Judged(
        verdict=Verdict.GOOD if apart <= 0.2 else Verdict.WEAK,
        text=f"{apart:.2f} V apart, parted. Together they read alike whatever one of them is worth: judge each by itself, parted.",
        limit="0.2 V parted", source="common practice, no source",
        next_step="" if apart <= 0.2 else "Charge the lower, rest, and read both again.",
    )  # fmt: skip
