"""Volts at the posts while cranking: what of a low figure is the battery's, what the joint's, what the starter's draw."""

from dataclasses import dataclass

from iron_probe.core.bench.judged import Judged, Verdict
from iron_probe.core.circuit.battery import LAG_V, BatteryState, Chemistry, internal_resistance_ohm, open_circuit_v
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import CRANKING_GOOD_V, CRANKING_LOW_V, CRANKING_NAMES_SHARE, POST_TO_CLAMP_V
from iron_probe.core.phrase import Phrase, together


@dataclass(frozen=True, slots=True, kw_only=True)
class CrankVolts:
    """One crank of a 12 V block: `rest_v` before it, `posts_v`, `clamps_v` (None: not read), `amps` (None: not clamped), its rated CCA,
    chemistry, `temp_degc`, and `expected_a` that the sound machine draws at that temperature."""

    rest_v: float
    posts_v: float
    clamps_v: float | None
    amps: float | None
    cca_a: float
    chemistry: Chemistry
    temp_degc: float
    expected_a: float


@dataclass(frozen=True, slots=True, kw_only=True)
class CrankShares:
    """Volts missing against a full, healthy block under the sound machine's draw, by who takes them [V]; `resistance_ohm` is ΔV/ΔI, and what every
    block loses to polarisation (LAG_V) is nobody's."""

    expected_v: float
    charge_v: float
    resistance_v: float
    draw_v: float
    joint_v: float
    resistance_ohm: float | None
    judged: Judged


def judge_cranking(crank: CrankVolts) -> CrankShares:
    """Split a low cranking voltage; ReadingError when the figures cannot belong to one crank."""
    if crank.posts_v >= crank.rest_v:
        raise ReadingError(
            f"{crank.posts_v:.2f} V while cranking is not below the {crank.rest_v:.2f} V at rest: no current flowed, or the leads moved. Read both again."
        )
    if crank.clamps_v is not None and crank.clamps_v > crank.posts_v + 0.05:
        raise ReadingError(
            f"The clamps ({crank.clamps_v:.2f} V) read above the posts ({crank.posts_v:.2f} V): swapped readings or two different cranks. Read both in one crank."
        )
    full = BatteryState(state_of_charge=1.0, temp_degc=crank.temp_degc)
    full_v = open_circuit_v(crank.chemistry, full)
    healthy = internal_resistance_ohm(crank.cca_a, full, crank.chemistry)
    expected = full_v - LAG_V - crank.expected_a * healthy
    charge_v = max(full_v - crank.rest_v, 0.0)
    joint_v = max(crank.posts_v - crank.clamps_v, 0.0) if crank.clamps_v is not None else 0.0
    own_ohm = (crank.rest_v - crank.posts_v) / crank.amps if crank.amps else None
    draw_v = resistance_v = 0.0
    if crank.amps and own_ohm is not None:
        draw_v = (crank.amps - crank.expected_a) * healthy
        resistance_v = (own_ohm - healthy) * crank.amps - LAG_V
    return CrankShares(
        expected_v=expected, charge_v=charge_v, resistance_v=resistance_v, draw_v=draw_v, joint_v=joint_v, resistance_ohm=own_ohm,
        judged=_judge(crank, expected, charge_v, resistance_v, draw_v, joint_v),
    )  # fmt: skip


def _judge(crank: CrankVolts, expected: float, charge_v: float, resistance_v: float, draw_v: float, joint_v: float) -> Judged:
    limit = Phrase(
        "{good_v:g} V while turning; {low_v:g} V is low; post to clamp {joint_v:g} V",
        good_v=CRANKING_GOOD_V,
        low_v=CRANKING_LOW_V,
        joint_v=POST_TO_CLAMP_V,
    )
    source = Phrase("common practice, no source; expected value from the sheet's starter and the rated CCA")

    def say(verdict: Verdict, text: str, next_step: str = "") -> Judged:
        return Judged(verdict=verdict, text=text, limit=limit, source=source, next_step=next_step)

    loses = Phrase(" Post to clamp loses {joint_v:.2f} V: clean and tighten that joint first.", joint_v=joint_v)
    joint = loses if joint_v > POST_TO_CLAMP_V else ""
    if crank.posts_v >= CRANKING_GOOD_V:
        return say(
            Verdict.WEAK if joint else Verdict.GOOD,
            Phrase("{posts_v:.2f} V at the posts: the battery holds under this crank.{joint}", posts_v=crank.posts_v, joint=joint),
        )
    if crank.amps is None:
        return say(
            Verdict.OPEN,
            Phrase(
                "{posts_v:.2f} V at the posts is low, but without amps it may be the battery or the starter's draw.{joint}",
                posts_v=crank.posts_v,
                joint=joint,
            ),
            Phrase("Clamp the starter cable in the next crank."),
        )
    parts = {
        Phrase("charge: it rested at {rest_v:.2f} V", rest_v=crank.rest_v): charge_v,
        Phrase("its internal resistance"): max(resistance_v, 0.0),
        Phrase("the starter's draw, {amps:.0f} A where {expected_a:.0f} A is expected", amps=crank.amps, expected_a=crank.expected_a): max(
            draw_v, 0.0
        ),
    }
    missing = max(expected - crank.posts_v, 1e-6)
    named = [what + f" ({volts:.2f} V)" for what, volts in parts.items() if volts >= CRANKING_NAMES_SHARE * missing]
    words = Phrase(
        "{posts_v:.2f} V at the posts, {missing:.2f} V under the {expected:.2f} V expected. ",
        posts_v=crank.posts_v,
        missing=missing,
        expected=expected,
    )
    words += (
        Phrase("Most of it: {named}.", named=together(named))
        if named
        else Phrase("No single one of charge, resistance and draw explains it.")
    )
    draw_leads = max(draw_v, 0) > max(resistance_v, 0) and max(draw_v, 0) > charge_v
    step = (
        Phrase("Recharge, then crank again.")
        if charge_v > 0.25
        else Phrase("Drag or a short in the starter, or a tight engine: see the crank trace.")
        if draw_leads
        else Phrase("Load or capacity test the battery.")
    )
    return say(Verdict.BAD if crank.posts_v < CRANKING_LOW_V else Verdict.WEAK, words + joint, step)
