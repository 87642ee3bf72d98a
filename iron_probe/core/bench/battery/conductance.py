"""A conductance tester's figure against the rating, and internal resistance; what such a test does not prove."""

from typing import Literal

from iron_probe.core.bench.judged import NO_SOURCE, Judged, Verdict
from iron_probe.core.circuit.battery import BatteryState, internal_resistance_ohm
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import CONDUCTANCE_GOOD_SHARE, CONDUCTANCE_WEAK_SHARE, RESISTANCE_BAD, RESISTANCE_GOOD
from iron_probe.core.phrase import Phrase

Rating = Literal["CCA", "EN", "DIN", "SAE", "JIS"]
SAME: dict[str, frozenset[str]] = {"CCA": frozenset(("CCA", "SAE")), "SAE": frozenset(("CCA", "SAE"))}
"""Ratings that mean the same test: cold cranking amps are those of SAE J537 (from memory). For the others no conversion is held here:
factors in circulation differ by a tenth and more, and name no source."""
NOT_PROVEN = Phrase("It does not prove capacity: a battery may start an engine and hold a tenth of its amp-hours.")


def judge_conductance(measured_a: float, measured_as: Rating, rated_a: float, rated_as: Rating, charge: float | None) -> Judged:
    """Measured against rated cold amps [A] of the same kind; `charge` 0..1 is the state of charge if known.

    ReadingError when the two ratings are of different tests, or a figure is not one.
    """
    if "JIS" in (measured_as, rated_as):
        raise ReadingError(
            "JIS is a case size, not a test current: set the tester to the size code and enter its CCA figure and the CCA rating on the label."
        )
    if measured_as != rated_as and rated_as not in SAME.get(measured_as, frozenset()):
        raise ReadingError(
            f"{measured_as} and {rated_as} are different tests, and no conversion with a source is held here. Set the tester to {rated_as} and measure again."
        )
    if not 20 <= rated_a <= 3000 or not 0 <= measured_a <= 4000:
        raise ReadingError(f"{measured_a:g} A against {rated_a:g} A: cold amps run from 20 to 3000 A. Check the figures.")
    share = measured_a / rated_a
    limit = Phrase(
        "good from {good:.0f} % of rated, worn under {weak:.0f} %",
        good=100 * CONDUCTANCE_GOOD_SHARE,
        weak=100 * CONDUCTANCE_WEAK_SHARE,
    )
    text = Phrase("{share:.0f} % of rated. ", share=100 * share)
    source = NO_SOURCE
    if share < CONDUCTANCE_GOOD_SHARE and (charge is None or charge < 0.7):
        known = Phrase("its charge is not known") if charge is None else Phrase("it is {charge:.0f} % charged", charge=100 * charge)
        return Judged(
            verdict=Verdict.OPEN, text=Phrase("{text}Low, but {known}: a flat battery reads low. {caveat}", text=text, known=known, caveat=NOT_PROVEN), limit=limit, source=source,
            next_step=Phrase("Recharge, rest, and test again."),
        )  # fmt: skip
    verdict = Verdict.GOOD if share >= CONDUCTANCE_GOOD_SHARE else Verdict.WEAK if share >= CONDUCTANCE_WEAK_SHARE else Verdict.BAD
    return Judged(verdict=verdict, text=text + NOT_PROVEN, limit=limit, source=source)


def judge_resistance(measured_ohm: float, rated_a: float, temp_degc: float, charge: float | None) -> Judged:
    """Internal resistance [Ω] against what a healthy block of `rated_a` [A] CCA has at that temperature and charge."""
    state = BatteryState(state_of_charge=1.0 if charge is None else charge, temp_degc=temp_degc)
    expected = internal_resistance_ohm(rated_a, state)
    times = measured_ohm / expected
    verdict = Verdict.GOOD if times <= RESISTANCE_GOOD else Verdict.WEAK if times <= RESISTANCE_BAD else Verdict.BAD
    if verdict is not Verdict.GOOD and charge is None:
        verdict = Verdict.OPEN
    return Judged(
        verdict=verdict,
        text=Phrase("{measured_ohm:.1f} mΩ, {times:.1f} times the {expected:.1f} mΩ of a healthy block of that rating. {caveat}", measured_ohm=measured_ohm * 1000, times=times, expected=expected * 1000, caveat=NOT_PROVEN),
        limit=Phrase("good up to {good:g} times, bad from {bad:g} times", good=RESISTANCE_GOOD, bad=RESISTANCE_BAD),
        source=Phrase("3 V over CCA when full at 25 °C, colder by SAE J537 (from memory); limits common practice"),
    )  # fmt: skip
