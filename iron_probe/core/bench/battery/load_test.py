"""The load test: half the cold cranking amps for 15 s, judged by the volts at the end and the temperature."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import LOAD_TEST_S, LOAD_TEST_SHARE, LOAD_TEST_WITHIN, RETEST_CHARGE
from iron_probe.core.phrase import Phrase

LEAST_BY_DEGC = ((-18.0, 8.5), (-12.0, 8.7), (-7.0, 8.9), (-1.0, 9.1), (4.0, 9.3), (10.0, 9.4), (16.0, 9.5), (21.0, 9.6))
"""Temperature [°C] and the least volts [V] a 12 V block holds at the end (BCI table, from memory)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadTest:
    """Volts against time: `seconds` and `volts` in pairs, `load_a` drawn, `rated_a` CCA, `temp_degc`, `charge` 0..1 before it (None: unknown)."""

    seconds: Sequence[float]
    volts: Sequence[float]
    load_a: float
    rated_a: float
    temp_degc: float
    charge: float | None


def least_volts(temp_degc: float) -> float:
    """The limit [V] at a temperature, linear between the steps of the table, held beyond its ends."""
    degc, volts = zip(*LEAST_BY_DEGC, strict=True)
    return float(np.interp(temp_degc, degc, volts))


def judge_load_test(test: LoadTest) -> Judged:
    """Judge a load test; ReadingError when the points are no record of one."""
    seconds, volts = np.asarray(test.seconds, dtype=float), np.asarray(test.volts, dtype=float)
    if len(seconds) != len(volts) or not len(seconds):
        raise ReadingError("A load test needs at least one pair of seconds and volts, such as 15 9.9.")
    if (np.diff(seconds) <= 0).any():
        raise ReadingError("The seconds of a load test must rise from line to line.")
    least = least_volts(test.temp_degc)
    wanted = LOAD_TEST_SHARE * test.rated_a
    limit = Phrase(
        "{least:.2f} V after {load_s:g} s at {wanted:.0f} A, {temp_degc:.0f} °C",
        least=least,
        load_s=LOAD_TEST_S,
        wanted=wanted,
        temp_degc=test.temp_degc,
    )
    source = Phrase("half CCA for 15 s, least volts by temperature: BCI table (from memory)")

    def say(verdict: Verdict, text: str, next_step: str = "") -> Judged:
        return Judged(verdict=verdict, text=text, limit=limit, source=source, next_step=next_step)

    fell = volts < least
    if abs(test.load_a - wanted) > LOAD_TEST_WITHIN * wanted and not (fell.any() and test.load_a < wanted):
        return say(
            Verdict.OPEN,
            Phrase(
                "{load_a:.0f} A is not half the rating ({wanted:.0f} A): the limit does not belong to it.",
                load_a=test.load_a,
                wanted=wanted,
            ),
            Phrase("Set the load to {wanted:.0f} A.", wanted=wanted),
        )
    if fell.any():
        at = Phrase("{volts:.2f} V after {seconds:g} s", volts=volts[fell][0], seconds=seconds[fell][0])
        if test.charge is None or test.charge < RETEST_CHARGE:
            return say(
                Verdict.OPEN,
                Phrase("{at}: under the limit, but it was not known to be charged. One deep discharge condemns nothing.", at=at),
                Phrase("Recharge, rest, repeat the test."),
            )
        return say(Verdict.BAD, Phrase("{at}: under the limit with {charge:.0f} % charge.", at=at, charge=100 * test.charge))
    if seconds[-1] < LOAD_TEST_S - 0.5:
        return say(
            Verdict.OPEN,
            Phrase(
                "{volts:.2f} V after {seconds:g} s so far; the test lasts {load_s:g} s.",
                volts=volts[-1],
                seconds=seconds[-1],
                load_s=LOAD_TEST_S,
            ),
        )
    last = float(np.interp(LOAD_TEST_S, seconds, volts))
    near = last < least + 0.2
    return say(
        Verdict.WEAK if near else Verdict.GOOD,
        Phrase("{last:.2f} V after {load_s:g} s", last=last, load_s=LOAD_TEST_S)
        + (Phrase(": holds, with little to spare.") if near else Phrase(": holds.")),
    )
