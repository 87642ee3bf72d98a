"""Capacity proof: amp-hours delivered to a floor under a known load, set against the 20 h rating; or accepted from flat."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import CAPACITY_AMPS_SHARE, CAPACITY_BAD_SHARE, CAPACITY_FLOOR_V, CAPACITY_GOOD_SHARE, CAPACITY_RATED_H

PEUKERT = (1.1, 1.17, 1.25)
"""Exponent of a lead-acid block: low, usual, high (Peukert's law; range from memory). LiFePO4 takes 1.02 to 1.06."""
PEUKERT_LITHIUM = (1.02, 1.04, 1.06)
ACCEPT_LOST = (0.0, 0.15)
"""Share of the amp-hours put in that lead-acid does not give back (common practice)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class CapacityRun:
    """A discharge: `minutes`, `volts`, `amps` in step, from a full battery, to `floor_v` [V]; `rated_ah` at 20 h; `lithium` chemistry."""

    minutes: Sequence[float]
    volts: Sequence[float]
    amps: Sequence[float]
    rated_ah: float
    floor_v: float = CAPACITY_FLOOR_V
    lithium: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class CapacityResult:
    """`delivered_ah`; `share` of the 20 h rating with `low` and `high`; `reached` whether the floor was; `expected_minutes` a good one
    lasts at this load; `ends_minutes` when the curve reaches the floor at the latest."""

    delivered_ah: float
    mean_a: float
    share: float
    low: float
    high: float
    reached: bool
    expected_minutes: float
    ends_minutes: float | None
    judged: Judged


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
    shares = [
        capacity_of(mean_a * (1 + d), hours, k) / run.rated_ah for k in exponents for d in (-CAPACITY_AMPS_SHARE, 0, CAPACITY_AMPS_SHARE)
    ]
    share = capacity_of(mean_a, hours, exponents[1]) / run.rated_ah
    expected = 60 * hours_at(mean_a, run.rated_ah, exponents[1])
    ends = None if reached else _ends(minutes, volts, run.floor_v)
    low, high = min(shares), max(shares)
    limit = f"good from {100 * CAPACITY_GOOD_SHARE:.0f} % of {run.rated_ah:g} Ah at 20 h, bad under {100 * CAPACITY_BAD_SHARE:.0f} %; floor {run.floor_v:g} V"
    source = f"Peukert t = H (C/IH)^k with k {exponents[0]:g} to {exponents[2]:g} (from memory); 80 % after IEEE 450 (from memory)"
    judged = _judge(run, reached, share, low, high, ends, mean_a, exponents[2], limit, source)
    return CapacityResult(
        delivered_ah=delivered, mean_a=mean_a, share=share, low=low, high=high, reached=reached,
        expected_minutes=expected, ends_minutes=ends, judged=judged,
    )  # fmt: skip


def _ends(minutes: np.ndarray, volts: np.ndarray, floor_v: float) -> float | None:
    """When the curve reaches the floor at the latest [min]: it only ever steepens, so its last slope carried on is a bound."""
    late = minutes >= minutes[-1] / 2
    if late.sum() < 2 or minutes[-1] < 1:
        return None
    slope = np.polyfit(minutes[late], volts[late], 1)[0]
    return float(minutes[-1] + (volts[-1] - floor_v) / -slope) if slope < -1e-4 else None


def _judge(
    run: CapacityRun,
    reached: bool,
    share: float,
    low: float,
    high: float,
    ends: float | None,
    mean_a: float,
    steepest: float,
    limit: str,
    source: str,
) -> Judged:
    def say(verdict: Verdict, text: str, next_step: str = "") -> Judged:
        return Judged(verdict=verdict, text=text, limit=limit, source=source, next_step=next_step)

    if reached:
        words = f"{100 * share:.0f} % of its rating ({100 * low:.0f} % to {100 * high:.0f} %)."
        if low >= CAPACITY_GOOD_SHARE:
            return say(Verdict.GOOD, words, "Recharge at once: it is empty now.")
        if high < CAPACITY_BAD_SHARE:
            return say(Verdict.BAD, words)
        return say(
            Verdict.WEAK,
            words + (" The interval crosses a limit." if low < CAPACITY_BAD_SHARE or high >= CAPACITY_GOOD_SHARE else ""),
            "Recharge at once.",
        )
    if low >= CAPACITY_GOOD_SHARE:
        return say(Verdict.GOOD, f"At least {100 * low:.0f} % of its rating delivered and still above the floor. Stop here.", "Recharge.")
    if ends is not None:
        most = capacity_of(mean_a * (1 + CAPACITY_AMPS_SHARE), ends / 60, steepest) / run.rated_ah
        if most < CAPACITY_BAD_SHARE:
            return say(
                Verdict.BAD,
                f"The curve already proves it: carried on, it reaches {run.floor_v:g} V at {ends:.0f} min at the latest, under {100 * most:.0f} % of its rating. Stop here.",
                "Recharge at once.",
            )
    return say(Verdict.OPEN, f"At least {100 * low:.0f} % so far, still above the floor. Go on.")


def judge_accepted(accepted_ah: float, rated_ah: float) -> Judged:
    """Amp-hours taken on charge from flat until it takes no more: no battery gives back more than it took."""
    if accepted_ah < 0 or rated_ah <= 0:
        raise ReadingError("Enter the amp-hours the charger put in from flat, and the rating.")
    low, high = ((1 - lost) * accepted_ah / rated_ah for lost in (max(ACCEPT_LOST), min(ACCEPT_LOST)))
    verdict = Verdict.BAD if high < CAPACITY_BAD_SHARE else Verdict.GOOD if low >= CAPACITY_GOOD_SHARE else Verdict.WEAK
    return Judged(
        verdict=verdict, text=f"{accepted_ah:g} Ah from flat: it holds {100 * low:.0f} % to {100 * high:.0f} % of its rating.",
        limit=f"good from {100 * CAPACITY_GOOD_SHARE:.0f} %, bad under {100 * CAPACITY_BAD_SHARE:.0f} %",
        source="what was not put in cannot come out; up to 15 % of lead-acid's charge is lost (common practice)",
        next_step="Only from truly flat (10.5 V under load) to a tail current under 1 % does this count.",
    )  # fmt: skip
