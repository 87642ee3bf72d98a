"""Rest voltage: is it at rest, how much charge belongs to it, and do two blocks of a set agree."""

from dataclasses import dataclass

from iron_probe.core.bench.judged import NO_SOURCE, Judged, Verdict
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
from iron_probe.core.phrase import Phrase


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
    table = Phrase("{chemistry} by rest voltage, {temp_degc:.0f} °C", chemistry=check.chemistry, temp_degc=check.temp_degc)
    source = Phrase("hydrometer steps through an electrolyte model (docs/method/battery.md); AGM, gel and LiFePO4 common practice")
    low, mid, high = (state_of_charge(check.chemistry, check.rest_v + d, check.temp_degc) for d in (-REST_READ_V, 0.0, REST_READ_V))
    if check.charger:
        return RestResult(
            charge=None, low=0, high=1,
            judged=Judged(verdict=Verdict.OPEN, text=Phrase("A charger or maintainer is connected: the figure is the charger's, not the battery's."),
                          limit=table, source=source, next_step=Phrase("Take the charger off, bleed the surface charge, rest, read again.")),
        )  # fmt: skip
    if check.charged and check.rest_v <= OPEN_CIRCUIT_V[check.chemistry][-1] - CELL_LOST_SHARE * cell_volts(check.chemistry):
        return RestResult(charge=None, low=0, high=0, judged=_cell_lost(check, source), cell_lost=True)
    flatters = check.rest_v > OPEN_CIRCUIT_V[check.chemistry][-1] + 0.1
    if not check.bled and (flatters or (check.hours_since is not None and check.hours_since < REST_SURFACE_HOURS)):
        why = (
            Phrase("it reads above full")
            if flatters
            else Phrase("it was charged or driven {hours_since:g} h ago", hours_since=check.hours_since)
        )
        return RestResult(
            charge=None, low=0, high=high,
            judged=Judged(verdict=Verdict.OPEN, text=Phrase("Surface charge flatters this figure: {why}. At most {high:.0f} % charged.", why=why, high=100 * high), limit=table, source=source,
                          next_step=Phrase("Headlamps on for {minutes:g} min, off, rest {pause:g} min, read again.", minutes=REST_BLEED_MINUTES, pause=REST_BLEED_PAUSE_MINUTES)),
        )  # fmt: skip
    verdict = Verdict.GOOD if low >= RETEST_CHARGE - 0.05 else Verdict.WEAK if mid > 0.4 else Verdict.BAD
    words = Phrase("{mid:.0f} % charged ({low:.0f} % to {high:.0f} %).", mid=100 * mid, low=100 * low, high=100 * high)
    if check.chemistry == "lifepo4" and 0.1 < mid < 0.95:
        words += Phrase(" This chemistry is flat between: the figure says little; count amp-hours.")
    if verdict is not Verdict.GOOD:
        words += Phrase(" Low charge condemns nothing: recharge, then judge.")
    return RestResult(
        charge=mid, low=low, high=high,
        judged=Judged(verdict=verdict, text=words, limit=table, source=source,
                      next_step="" if verdict is Verdict.GOOD else Phrase("Recharge, rest, and read again before any load or capacity test.")),
    )  # fmt: skip


def cell_volts(chemistry: Chemistry) -> float:
    """Volts [V] of one full cell of a 12 V block: six of lead-acid, four of lithium."""
    return OPEN_CIRCUIT_V[chemistry][-1] / (4 if chemistry == "lifepo4" else 6)


def _cell_lost(check: RestCheck, source: str) -> Judged:
    full, cell = OPEN_CIRCUIT_V[check.chemistry][-1], cell_volts(check.chemistry)
    return Judged(
        verdict=Verdict.BAD,
        text=Phrase("{rest_v:.2f} V at rest after a full charge: a cell is lost. The others give {cell:.1f} V, all of them {full:.1f} V.", rest_v=check.rest_v, cell=full - cell, full=full),
        limit=Phrase("{share:g} of a cell ({cell:.2f} V) under full, after a full charge", share=CELL_LOST_SHARE, cell=cell), source=source,
        next_step=Phrase("Renew it. Charge on its own boils the cells that are left: take the charger off."),
    )  # fmt: skip


def judge_series(first_v: float, second_v: float) -> Judged:
    """Two 12 V blocks in series at rest [V]: the difference between them."""
    apart = abs(first_v - second_v)
    limit = Phrase("{most_v:g} V between the two at rest", most_v=REST_SERIES_APART_V)
    weaker = Phrase("first") if first_v < second_v else Phrase("second")
    if apart <= REST_SERIES_APART_V:
        return Judged(
            verdict=Verdict.GOOD,
            text=Phrase("{apart:.2f} V apart: they match.", apart=apart),
            limit=limit,
            source=NO_SOURCE,
        )
    return Judged(
        verdict=Verdict.BAD, text=Phrase("{apart:.2f} V apart: the {weaker} is behind. In series the weaker limits both and is driven hardest.", apart=apart, weaker=weaker),
        limit=limit, source=NO_SOURCE,
        next_step=Phrase("Charge each by itself and read both again; still apart, test the weaker and renew the two together."),
    )  # fmt: skip


def judge_parallel(first_v: float, second_v: float, joined: bool) -> Judged:
    """Two 12 V blocks in parallel at rest [V]; `joined` when relay or isolator between them is closed."""
    apart = abs(first_v - second_v)
    if joined:
        good = apart < 0.05
        return Judged(
            verdict=Verdict.GOOD if good else Verdict.BAD,
            text=Phrase("{apart:.2f} V apart while joined: ", apart=apart) + (Phrase("the joint between them holds.") if good else Phrase("something between them loses it; measure the stretch.")),
            limit=Phrase("50 mV while joined"), source=NO_SOURCE,
            next_step="" if good else Phrase("Drop from post to post with a load on."),
        )  # fmt: skip
    return Judged(
        verdict=Verdict.GOOD if apart <= 0.2 else Verdict.WEAK,
        text=Phrase("{apart:.2f} V apart, parted. Together they read alike whatever one of them is worth: judge each by itself, parted.", apart=apart),
        limit=Phrase("0.2 V parted"), source=NO_SOURCE,
        next_step="" if apart <= 0.2 else Phrase("Charge the lower, rest, and read both again."),
    )  # fmt: skip
