"""Capacity proof: amp-hours delivered to a floor under a known load, set against the 20 h rating at 25 °C; or accepted from flat."""

from collections.abc import Sequence
from dataclasses import asdict, dataclass

import numpy as np

from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import (
    CAPACITY_AMPS_SHARE,
    CAPACITY_BAD_SHARE,
    CAPACITY_FLOOR_V,
    CAPACITY_GOOD_SHARE,
    CAPACITY_LOST_PER_K,
    CAPACITY_RATED_H,
    CAPACITY_WARM_DEGC,
    RETEST_CHARGE,
)
from iron_probe.core.phrase import Phrase

PEUKERT = (1.1, 1.17, 1.25)
"""Exponent of a lead-acid block: low, usual, high (Peukert's law; range from memory). LiFePO4 takes 1.02 to 1.06."""
PEUKERT_LITHIUM = (1.02, 1.04, 1.06)
ACCEPT_LOST = (0.0, 0.15)
"""Share of the amp-hours put in that lead-acid does not give back (common practice)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CapacityRun:
    """A discharge: `minutes`, `volts`, `amps` in step, to `floor_v` [V]; `rated_ah` at 20 h and 25 °C; `lithium` chemistry; `temp_degc` of the
    battery; `charge` 0..1 it began with (None: not known)."""

    minutes: Sequence[float]
    volts: Sequence[float]
    amps: Sequence[float]
    rated_ah: float
    floor_v: float = CAPACITY_FLOOR_V
    lithium: bool = False
    temp_degc: float = float(CAPACITY_WARM_DEGC)
    charge: float | None = 1.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Delivered:
    """`delivered_ah`; `share` of the rating it holds at 25 °C with `low` and `high`, of which `bound` tells whether it is the figure, the least
    or the most it can be; `reached` whether the floor was; `expected_minutes` a good one lasts at this load and temperature;
    `ends_minutes` when the curve reaches the floor at the latest."""

    delivered_ah: float
    mean_a: float
    share: float
    low: float
    high: float
    reached: bool
    expected_minutes: float
    ends_minutes: float | None
    bound: Bound


@dataclass(frozen=True, slots=True, kw_only=True)
class CapacityResult(Delivered):
    """What was delivered, and what that is judged to mean."""

    judged: Judged


def left_by_cold(temp_degc: float) -> float:
    """Share of its amp-hours that lead-acid gives at a temperature; all from 25 °C."""
    return float(max(1 - CAPACITY_LOST_PER_K * max(CAPACITY_WARM_DEGC - temp_degc, 0.0), 0.1))


def hours_at(amps: float, capacity_ah: float, exponent: float) -> float:
    """Hours [h] a block of `capacity_ah` (20 h) lasts at `amps`: t = H (C / I H)^k."""
    return float(CAPACITY_RATED_H * (capacity_ah / (amps * CAPACITY_RATED_H)) ** exponent)


def capacity_of(amps: float, hours: float, exponent: float) -> float:
    """The 20 h capacity [Ah] that lasts `hours` at `amps`: the same law turned round."""
    return float(amps * CAPACITY_RATED_H * (hours / CAPACITY_RATED_H) ** (1 / exponent))


def judge_capacity(run: CapacityRun) -> CapacityResult:
    """Judge a discharge, finished or still going; ReadingError when the points are no record of one."""
    minutes, volts, amps = (np.asarray(x, dtype=float) for x in (run.minutes, run.volts, run.amps))
    if len(minutes) < 2 or not len(minutes) == len(volts) == len(amps):
        raise ReadingError("A capacity run needs at least two lines of minutes and volts, with the amps or lamp watts of the load.")
    if (np.diff(minutes) <= 0).any() or minutes[0] < 0:
        raise ReadingError("The minutes of a capacity run must rise from line to line.")
    if (amps <= 0).any():
        raise ReadingError("A capacity run needs a load: amps above zero on every line.")
    under = np.flatnonzero(volts <= run.floor_v)
    reached = bool(len(under))
    end = len(minutes) - 1
    stop = float(minutes[-1])
    if reached:
        end = int(under[0])
        stop = float(minutes[0] if end == 0 else np.interp(run.floor_v, [volts[end], volts[end - 1]], [minutes[end], minutes[end - 1]]))
    upto = minutes < stop
    times, drawn = np.append(minutes[upto], stop), np.append(amps[upto], np.interp(stop, minutes, amps))
    delivered = float(np.trapezoid(drawn, times) / 60 + drawn[0] * times[0] / 60)
    mean_a = delivered / (stop / 60) if stop else float(amps[0])
    exponents = PEUKERT_LITHIUM if run.lithium else PEUKERT
    hours = max(stop / 60, 1e-6)
    rated = run.rated_ah * left_by_cold(run.temp_degc)
    shares = [capacity_of(mean_a * (1 + d), hours, k) / rated for k in exponents for d in (-CAPACITY_AMPS_SHARE, 0, CAPACITY_AMPS_SHARE)]
    begun = min(run.charge, 1.0) if run.charge is not None and run.charge >= RETEST_CHARGE else 1.0  # the rest was missing when it began
    low, share, high = min(shares), capacity_of(mean_a, hours, exponents[1]) / rated / begun, max(shares) / begun
    expected = 60 * hours_at(mean_a, rated, exponents[1])
    ends = None if reached else _ends(minutes, volts, run.floor_v)
    most = None if ends is None else capacity_of(mean_a * (1 + CAPACITY_AMPS_SHARE), ends / 60, exponents[2]) / rated / begun
    known = run.charge is not None and run.charge >= RETEST_CHARGE
    bound = Bound.EXACT if reached and known else Bound.AT_LEAST
    if not reached and known and low < CAPACITY_GOOD_SHARE and most is not None and most < CAPACITY_BAD_SHARE:
        bound, share, high = Bound.AT_MOST, most, most
    elif bound is Bound.AT_LEAST:
        share = low
    found = Delivered(
        delivered_ah=delivered, mean_a=mean_a, share=share, low=low, high=high, reached=reached,
        expected_minutes=expected, ends_minutes=ends, bound=bound,
    )  # fmt: skip
    return CapacityResult(**asdict(found), judged=_judge(run, found, exponents))


def _ends(minutes: np.ndarray, volts: np.ndarray, floor_v: float) -> float | None:
    """When the curve reaches the floor at the latest [min]: it only ever steepens, so its last slope carried on is a bound."""
    late = minutes >= minutes[-1] / 2
    if late.sum() < 2 or minutes[-1] < 1:
        return None
    slope = np.polyfit(minutes[late], volts[late], 1)[0]
    return float(minutes[-1] + (volts[-1] - floor_v) / -slope) if slope < -1e-4 else None


def _held_against(run: CapacityRun, exponents: Sequence[float]) -> tuple[Phrase, Phrase]:
    limit = Phrase(
        "good from {good:.0f} % of {rated_ah:g} Ah at 20 h, bad under {bad:.0f} %; floor {floor_v:g} V",
        good=100 * CAPACITY_GOOD_SHARE,
        rated_ah=run.rated_ah,
        bad=100 * CAPACITY_BAD_SHARE,
        floor_v=run.floor_v,
    )
    source = Phrase(
        "Peukert t = H (C/IH)^k with k {least:g} to {most:g} (from memory); 80 % after IEEE 450 (from memory); a good one gives {left:.0f} % at {temp_degc:.0f} °C ({lost:.1f} % a kelvin, from memory)",
        least=exponents[0],
        most=exponents[2],
        left=100 * left_by_cold(run.temp_degc),
        temp_degc=run.temp_degc,
        lost=100 * CAPACITY_LOST_PER_K,
    )
    return limit, source


def _judge(run: CapacityRun, found: Delivered, exponents: Sequence[float]) -> Judged:
    limit, source = _held_against(run, exponents)

    def say(verdict: Verdict, text: str, next_step: str = "") -> Judged:
        return Judged(verdict=verdict, text=text, limit=limit, source=source, next_step=next_step)

    least = Phrase("at least {low:.0f} % of its rating", low=100 * found.low)
    if found.low >= CAPACITY_GOOD_SHARE and (found.bound is Bound.AT_LEAST):
        return say(
            Verdict.GOOD,
            Phrase("Gave {least}.", least=least)
            if found.reached
            else Phrase("Gave {least}, and still above the floor. Stop here.", least=least),
            Phrase("Recharge at once."),
        )
    if found.reached and found.bound is Bound.AT_LEAST:
        charge = (
            Phrase("its charge was not known")
            if run.charge is None
            else Phrase("it was only {charge:.0f} % charged", charge=100 * run.charge)
        )
        return say(
            Verdict.OPEN, Phrase("Gave {least}, but {charge} when this began: what was not put in cannot come out.", least=least, charge=charge),
            Phrase("Charge it full, rest, read its rest volts, run it down again."),
        )  # fmt: skip
    if found.reached:
        words = Phrase(
            "{share:.0f} % of its rating ({low:.0f} % to {high:.0f} %).",
            share=100 * found.share,
            low=100 * found.low,
            high=100 * found.high,
        )
        if found.low >= CAPACITY_GOOD_SHARE:
            return say(Verdict.GOOD, words, Phrase("Recharge at once: it is empty now."))
        if found.high < CAPACITY_BAD_SHARE:
            return say(Verdict.BAD, words)
        crosses = found.low < CAPACITY_BAD_SHARE or found.high >= CAPACITY_GOOD_SHARE
        return say(Verdict.WEAK, words + (Phrase(" The interval crosses a limit.") if crosses else ""), Phrase("Recharge at once."))
    if found.bound is Bound.AT_MOST:
        return say(
            Verdict.BAD,
            Phrase(
                "The curve already proves it: carried on, it reaches {floor_v:g} V at {ends_minutes:.0f} min at the latest, under {share:.0f} % of its rating. Stop here.",
                floor_v=run.floor_v,
                ends_minutes=found.ends_minutes or 0,
                share=100 * found.share,
            ),
            Phrase("Recharge at once."),
        )
    return say(Verdict.OPEN, Phrase("Gave {least} so far, still above the floor. Go on.", least=least))


def share_accepted(accepted_ah: float, rated_ah: float) -> tuple[float, float]:
    """Least and most share of its rating that a battery holds which took so many amp-hours from flat."""
    if accepted_ah < 0 or rated_ah <= 0:
        raise ReadingError("Enter the amp-hours the charger put in from flat, and the rating.")
    return (1 - max(ACCEPT_LOST)) * accepted_ah / rated_ah, (1 - min(ACCEPT_LOST)) * accepted_ah / rated_ah


def judge_accepted(accepted_ah: float, rated_ah: float) -> Judged:
    """Amp-hours taken on charge from flat until it takes no more: no battery gives back more than it took."""
    low, high = share_accepted(accepted_ah, rated_ah)
    verdict = Verdict.BAD if high < CAPACITY_BAD_SHARE else Verdict.GOOD if low >= CAPACITY_GOOD_SHARE else Verdict.WEAK
    return Judged(
        verdict=verdict, text=Phrase("{accepted_ah:g} Ah from flat: it holds {low:.0f} % to {high:.0f} % of its rating.", accepted_ah=accepted_ah, low=100 * low, high=100 * high),
        limit=Phrase("good from {good:.0f} %, bad under {bad:.0f} %", good=100 * CAPACITY_GOOD_SHARE, bad=100 * CAPACITY_BAD_SHARE),
        source=Phrase("what was not put in cannot come out; up to 15 % of lead-acid's charge is lost (common practice)"),
        next_step=Phrase("Only from truly flat (10.5 V under load) to a tail current under 1 % does this count."),
    )  # fmt: skip
