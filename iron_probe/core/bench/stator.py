"""Permanent-magnet stator and its rectifier: ohms and AC volts per pair, to ground, and the diode matrix."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import pi, sqrt

from iron_probe.core.bench.judged import NO_SOURCE, Judged, Verdict
from iron_probe.core.bench.typed_value import LARGEST_AC_V, parse_quantity
from iron_probe.core.circuit.charging import Joined
from iron_probe.core.circuit.elements import Stator
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import (
    DELTA_OPEN_RATIO,
    DIODE_SHORT_V,
    PAIRS_APART_OHM_SHARE,
    PAIRS_APART_V_SHARE,
    STATOR_RPM_APART_SHARE,
    WINDING_GROUND_OHM,
)
from iron_probe.core.phrase import Phrase, together

PAIRS = ((1, 2), (2, 3), (3, 1))
PAIR_OHM = (0.1, 1.5)
"""Ohms a pair usually has (0.2 to 1 Ω: common practice; the maker's figure comes first)."""
DIODE_V = (0.25, 0.75)
"""Forward voltage of a rectifier diode on a diode tester [V] (0.3 to 0.6 V: common practice)."""
OPEN_WINDING_OHM = 1e3
"""A winding over this is open [Ω]."""


def judge_pair_ohms(ohms: Sequence[float], leads_ohm: float, joined: Joined = "star") -> Judged:
    """Ohms of pairs 1-2, 2-3, 3-1, the leads' own taken off; ReadingError when the leads read more than a pair."""
    own = [o - leads_ohm for o in ohms]
    if min(own) < -0.02:
        raise ReadingError(
            f"The leads ({leads_ohm:.2f} Ω) read more than a pair ({min(ohms):.2f} Ω): short the leads again and take all three anew."
        )
    limit = Phrase(
        "{least:g} to {most:g} Ω and equal within {apart:.0f} %",
        least=PAIR_OHM[0],
        most=PAIR_OHM[1],
        apart=100 * PAIRS_APART_OHM_SHARE,
    )
    shown = together([f"{a}-{b} {o:.2f} Ω" if o < 1e5 else Phrase("{a}-{b} open", a=a, b=b) for (a, b), o in zip(PAIRS, own, strict=True)])

    def say(verdict: Verdict, text: str) -> Judged:
        return Judged(verdict=verdict, text=shown + ": " + text, limit=limit, source=NO_SOURCE)

    dead = [k for k, o in enumerate(own) if o > OPEN_WINDING_OHM]
    if len(dead) == 3:
        return say(Verdict.BAD, Phrase("all open. Is the plug the right one?"))
    if len(dead) == 2:
        phase = (set(PAIRS[dead[0]]) & set(PAIRS[dead[1]])).pop()
        return say(Verdict.BAD, Phrase("phase {phase} is open.", phase=phase))
    if dead:
        return say(Verdict.BAD, Phrase("one pair open: an open phase opens two in a star and none in a delta. Repeat at clean pins."))
    mean = sum(own) / 3
    if max(own) - min(own) > PAIRS_APART_OHM_SHARE * max(mean, 0.05):
        low, high = min(range(3), key=lambda k: own[k]), max(range(3), key=lambda k: own[k])
        if joined == "delta" and own[high] > DELTA_OPEN_RATIO * sorted(own)[1]:
            return say(
                Verdict.BAD,
                Phrase(
                    "pair {high}-{other} is twice the others: its winding is open, the way round is what reads.",
                    high=PAIRS[high][0],
                    other=PAIRS[high][1],
                ),
            )
        return say(Verdict.BAD, Phrase("unequal: pair {low}-{other} is low, turns are shorted.", low=PAIRS[low][0], other=PAIRS[low][1]))
    return say(
        Verdict.GOOD if PAIR_OHM[0] <= mean <= PAIR_OHM[1] else Verdict.WEAK,
        Phrase("equal.") if mean <= PAIR_OHM[1] else Phrase("equal but high: corroded plug?"),
    )


def judge_winding_ohm(ohm: float, leads_ohm: float) -> Judged:
    """Ohms of a single winding, the leads' own taken off; ReadingError when the leads read more than it does."""
    own = ohm - leads_ohm
    if own < -0.02:
        raise ReadingError(
            f"The leads ({leads_ohm:.2f} Ω) read more than the winding ({ohm:.2f} Ω): short the leads again and take both anew."
        )
    limit = Phrase("{least:g} to {most:g} Ω", least=PAIR_OHM[0], most=PAIR_OHM[1])
    if own > OPEN_WINDING_OHM:
        return Judged(
            verdict=Verdict.BAD, text=Phrase("1-2 open: the winding is open. Is the plug the right one?"), limit=limit, source=NO_SOURCE
        )
    if own < PAIR_OHM[0]:
        return Judged(
            verdict=Verdict.WEAK,
            text=Phrase("1-2 {own:.2f} Ω: low, turns may be shorted. Its AC volts tell.", own=own),
            limit=limit,
            source=NO_SOURCE,
        )
    sound = own <= PAIR_OHM[1]
    text = f"1-2 {own:.2f} Ω: " + (Phrase("as a winding has it.") if sound else Phrase("high: corroded plug?"))
    return Judged(verdict=Verdict.GOOD if sound else Verdict.WEAK, text=text, limit=limit, source=NO_SOURCE)


def judge_winding_volts(volts: float, rpm: float, per_krpm: float) -> Judged:
    """AC volts of a single winding, plug off, at an engine speed; `per_krpm` what a sound one makes at 1000 rpm."""
    expected = per_krpm * rpm / 1000
    share = volts / expected if expected else 0.0
    verdict, text = Verdict.WEAK, Phrase("low: shorted turns, weak magnets, or another speed.")
    if share < 0.3:
        verdict, text = Verdict.BAD, Phrase("hardly any: magnets, the winding, or not turning.")
    elif share > 0.8:
        verdict, text = (
            Verdict.GOOD,
            Phrase("as it should be; behind a bridge without load about {volts:.0f} V DC.", volts=2 * sqrt(2) / pi * volts),
        )
    return Judged(
        verdict=verdict,
        text=f"1-2 {volts:.1f} V: " + text,
        limit=Phrase("about {expected:.0f} V at {rpm:.0f} rpm", expected=expected, rpm=rpm),
        source=NO_SOURCE,
    )


def bridge_mean_v(line_rms_v: float) -> float:
    """Mean output [V] of a three-phase bridge: 3√2/π times the line voltage (any power-electronics handbook)."""
    return 3 * sqrt(2) / pi * line_rms_v


def judge_ground(ohms: float) -> Judged:
    """Any phase to the core, plug off."""
    bad = ohms < WINDING_GROUND_OHM
    return Judged(
        verdict=Verdict.BAD if bad else Verdict.GOOD,
        text=Phrase("A winding touches its core.") if bad else Phrase("Isolated."),
        limit=Phrase("infinite (over 100 kΩ)"),
        source=NO_SOURCE,
    )


def judge_pair_volts(volts: Sequence[float], rpm: float, per_krpm: float, joined: Joined = "star") -> Judged:
    """AC volts of the three pairs, plug off, at an engine speed; `per_krpm` what a sound pair makes at 1000 rpm. A delta with a winding
    open still makes all three without load: equal volts clear it only together with its ohms."""
    expected = per_krpm * rpm / 1000
    limit = Phrase(
        "about {expected:.0f} V at {rpm:.0f} rpm and equal within {apart:.0f} %",
        expected=expected,
        rpm=rpm,
        apart=100 * PAIRS_APART_V_SHARE,
    )
    shown = ", ".join(f"{a}-{b} {v:.1f} V" for (a, b), v in zip(PAIRS, volts, strict=True))
    mean = sum(volts) / 3

    def say(verdict: Verdict, text: str) -> Judged:
        return Judged(verdict=verdict, text=shown + ": " + text, limit=limit, source=NO_SOURCE)

    weak = [k for k, v in enumerate(volts) if v < 0.5 * max(volts)]
    if max(volts) < 0.3 * expected:
        return say(Verdict.BAD, Phrase("hardly any: magnets, all phases, or not turning."))
    if len(weak) == 2:
        phase = (set(PAIRS[weak[0]]) & set(PAIRS[weak[1]])).pop()
        return say(Verdict.BAD, Phrase("both pairs of phase {phase} are down: that phase is open or shorted.", phase=phase))
    if max(volts) - min(volts) > PAIRS_APART_V_SHARE * mean:
        return say(Verdict.BAD, Phrase("unequal: shorted turns in the weaker pair."))
    if mean > 0.8 * expected:
        caveat = Phrase(" A delta with an open winding looks equal too without load: its ohms by pair tell.") if joined == "delta" else ""
        return say(
            Verdict.GOOD,
            Phrase("equal; behind a bridge without load about {mean:.0f} V DC.{caveat}", mean=bridge_mean_v(mean), caveat=caveat),
        )
    return say(Verdict.WEAK, Phrase("equal but low: speed, or weak magnets."))


@dataclass(frozen=True, slots=True)
class DiodeTest:
    """A diode of the bridge: its phase and rail, forward and reverse volts typed (None: not read), and its word."""

    phase: int
    rail: str
    forward: float | None
    reverse: float | None
    word: str


def read_matrix(typed: Mapping[str, str], phases: int = 3) -> list[DiodeTest]:
    """The diodes of a bridge both ways, two a phase; keys `f1+`, `r1+` and so on: forward is red on the anode side (phase for +, minus rail for −).

    A whole rail that reads the right volts the wrong way round is taken as swapped leads and said so. ReadingError for a
    cell that is no figure.
    """
    diodes = []
    for rail in ("+", "−"):
        cells = [
            (phase, _volts(typed.get(f"f{phase}{rail}", "")), _volts(typed.get(f"r{phase}{rail}", ""))) for phase in range(1, phases + 1)
        ]
        swapped = all(f is not None and r is not None and f > 2 and DIODE_V[0] <= r <= DIODE_V[1] for _, f, r in cells)
        for phase, forward, reverse in cells:
            f, r = (reverse, forward) if swapped else (forward, reverse)
            diodes.append(DiodeTest(phase, rail, f, r, _word(f, r) + (Phrase(", leads were swapped on this rail") if swapped else "")))
    return diodes


def judge_matrix(diodes: Sequence[DiodeTest], star_grounded: bool, winding_ohm: float) -> Judged:
    """What the matrix says, and whether a shorted diode can drain the battery on this drawing: to a grounded star through the one winding
    of its phase."""
    bad = [d for d in diodes if d.word.startswith(("shorted", "open", "leaky"))]
    limit = Phrase("{low:g} to {high:g} V one way, open the other", low=DIODE_V[0], high=DIODE_V[1])
    if not bad:
        done = [d for d in diodes if d.word.startswith("sound")]
        return Judged(
            verdict=Verdict.GOOD if len(done) == len(diodes) else Verdict.OPEN,
            text=Phrase("{done} of {diodes} sound.", done=len(done), diodes=len(diodes)),
            limit=limit,
            source=NO_SOURCE,
        )
    words = together([Phrase("phase {phase} to {rail}: {word}", phase=d.phase, rail=d.rail, word=d.word) for d in bad], "; ")
    shorted = [d for d in bad if d.word.startswith("shorted")]
    plus = any(d.rail == "+" for d in shorted)
    if plus and star_grounded:
        words += Phrase(
            ". It drains the battery through the winding to the grounded star: about {winding_ohm:.0f} A.",
            winding_ohm=12 / max(winding_ohm, 0.1),
        )
    elif plus:
        words += Phrase(
            ". By itself it drains nothing: the windings have no way to minus. A drain needs a second fault, a winding to ground or a shorted diode to minus."
        )
    return Judged(verdict=Verdict.BAD, text=words, limit=limit, source=NO_SOURCE)


def _volts(text: str) -> float | None:
    """A diode reading as the field takes any other; over range stands far above a forward voltage."""
    return abs(parse_quantity(text, "V").value) if text.strip() else None


def _word(forward: float | None, reverse: float | None) -> str:
    if forward is None or reverse is None:
        return Phrase("not read both ways")
    if forward < DIODE_SHORT_V and reverse < DIODE_SHORT_V:
        return "shorted"
    if forward > 2 and reverse > 2:
        return "open"
    if DIODE_V[0] <= forward <= DIODE_V[1] and reverse > 2:
        return "sound"
    return Phrase("leaky") if reverse <= 2 else Phrase("odd: repeat it")


def judge_unplugged(stator: Stator, typed: Mapping[str, str]) -> tuple[list[DiodeTest], list[tuple[str, Judged]]]:
    """Everything typed about an unplugged stator and its bridge, judged as far as it goes: `leads`, `p12` `p23` `p31` and `ground` in Ω,
    `v12` `v23` `v31` in AC volts at `rpm`, and the matrix. ReadingError for a figure that is none."""
    found: list[tuple[str, Judged]] = []
    ohms = {k: parse_quantity(typed[k], "Ω").value for k in ("leads", "p12", "p23", "p31", "ground") if typed.get(k, "").strip()}
    volts = {k: abs(parse_quantity(typed[k], "V", LARGEST_AC_V).value) for k in ("v12", "v23", "v31") if typed.get(k, "").strip()}
    three = stator.p3 is not None
    if three and {"p12", "p23", "p31"} <= set(ohms):
        found.append(
            (Phrase("ohms by pair"), judge_pair_ohms([ohms["p12"], ohms["p23"], ohms["p31"]], ohms.get("leads", 0.0), stator.joined))
        )
    elif not three and "p12" in ohms:
        found.append((Phrase("ohms of the winding"), judge_winding_ohm(ohms["p12"], ohms.get("leads", 0.0))))
    if "ground" in ohms:
        found.append((Phrase("to ground"), judge_ground(ohms["ground"])))
    rpm, made = typed.get("rpm", "").strip(), stator.pair_v_per_krpm
    if rpm and not rpm.isdecimal():
        raise ReadingError(f"“{rpm[:20]}” is no engine speed: type revolutions a minute, such as 2000.")
    if rpm and three and len(volts) == 3:
        found.append(
            (Phrase("AC volts by pair"), judge_pair_volts([volts["v12"], volts["v23"], volts["v31"]], float(rpm), made, stator.joined))
        )
    elif rpm and not three and "v12" in volts:
        found.append((Phrase("AC volts of the winding"), judge_winding_volts(volts["v12"], float(rpm), made)))
    diodes = read_matrix(typed, len(stator.phases()))
    if any(d.forward is not None or d.reverse is not None for d in diodes):
        found.append(("diodes", judge_matrix(diodes, stator.star_grounded, stator.phase_mohm / 1000)))
    return diodes, found


def stator_readings(stator: Stator, sheet: Sheet, typed: Mapping[str, str]) -> list[Reading]:
    """What was typed as readings on the circuit, for the engine: ohms with the leads' own taken off; AC volts where they were taken within
    STATOR_RPM_APART_SHARE of the speed of a running state, brought to that speed (they rise with it in proportion)."""
    leads = parse_quantity(typed["leads"], "Ω").value if typed.get("leads", "").strip() else 0.0
    phase = stator.phases()
    ends = {"p12": (0, 1), "p23": (1, 2), "p31": (2, 0), "v12": (0, 1), "v23": (1, 2), "v31": (2, 0)}
    still, rpm = next(iter(sheet.states)), float(typed.get("rpm", "").strip() or 0)
    running = min(sheet.running_states(), key=lambda s: abs(sheet.states[s].rpm - rpm), default=still)
    turned = sheet.states[running].rpm
    found = []
    pairs = ("12", "23", "31") if stator.p3 else ("12",)
    for key in (*(f"p{p}" for p in pairs), "ground", *(f"v{p}" for p in pairs)):
        if not typed.get(key, "").strip() or (key[0] == "v" and (not rpm or abs(turned / rpm - 1) > STATOR_RPM_APART_SHARE)):
            continue
        red, black = (stator.p1, stator.case) if key == "ground" else (phase[k] for k in ends[key])
        volts = key[0] == "v"
        shown = parse_quantity(typed[key], "V", LARGEST_AC_V) if volts else parse_quantity(typed[key], "Ω")
        value = abs(shown.value) * turned / rpm if volts else max(shown.value - leads, 0.0)
        found.append(
            Reading(
                instrument=Instrument.AC_VOLTS if volts else Instrument.OHMMETER, red=red, black=black,
                state=running if volts else still, value=value, bound=shown.bound,
            )
        )  # fmt: skip
    return found
