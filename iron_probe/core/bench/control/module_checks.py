"""Checks beside the circuit: a module's references and buses, and a relay taken out; each with limit and source."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import prod
from typing import Literal

from iron_probe.core.bench.judged import NO_SOURCE, Judged, Verdict
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.elements import Module
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import ANSWER_WORDS, Instrument, Reading
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import MODULE_FEED_V, MODULE_GROUND_V
from iron_probe.core.phrase import Phrase
from iron_probe.core.solve.operate import solve_state


class LowLine(StrEnum):
    """How low the bus pair's low line may lie, awake and averaged."""

    ONE = "1"
    TWO = "2"


LOW_REASON: dict[LowLine, str] = {
    LowLine.TWO: Phrase("2 V: a lower average means a member loads the line (default: it asks for a look sooner)"),
    LowLine.ONE: Phrase("1 V: busy lines average lower, and only under 1 V is trouble certain"),
}
REFERENCE_V = (4.9, 5.1)
"""Where a 5 V reference stands [V] (common practice)."""
LEAN = {Verdict.BAD: 3.0, Verdict.WEAK: 1.5, Verdict.GOOD: 0.5, Verdict.OPEN: 1.0}
"""How much a check of a relay taken out shifts the likelihood of that relay (common practice)."""
DEAD_REFERENCE_V = 1.0
"""A 5 V reference under this is none [V]: its module is without power or dead; above, a sensor loads it (common practice)."""


def lean_of(verdicts: Sequence[Verdict]) -> float:
    """How much the checks made on a relay shift its likelihood together: bad ones each; good ones once, however many, and only where none is bad."""
    wrong = [LEAN[v] for v in verdicts if LEAN[v] > 1]
    return prod(wrong) if wrong else min((LEAN[v] for v in verdicts), default=1.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Check:
    """A check: its id, title, where to measure, unit, whether its figure is a drop on the circuit (then it is a reading
    there), whether it is made on a module or on a relay taken out, and the words it is answered with where it shows no figure."""

    id: str
    title: str
    where: str
    unit: str
    on_circuit: bool = False
    of: Literal["module", "relay"] = "module"
    words: tuple[str, ...] = ()


CHECKS = (
    Check(id="feed", title=Phrase("Feed drop"), where=Phrase("battery plus to the module's supply pin, awake"), unit="V", on_circuit=True),
    Check(id="ground", title=Phrase("Ground drop"), where=Phrase("module's ground pin to battery minus, awake"), unit="V", on_circuit=True),
    Check(id="scan_tool", title=Phrase("Answers a scan tool"), where=Phrase("at the diagnostic socket, key on"), unit="", words=("silent", "answers")),
    Check(id="reference", title=Phrase("5 V reference"), where=Phrase("at an unplugged sensor, key on"), unit="V"),
    Check(id="pair_ohm", title=Phrase("Bus pair, ohms"), where=Phrase("across the pair (pins 6 and 14 of the 16-pin socket), key off, asleep"), unit="Ω"),
    Check(id="high_v", title=Phrase("Bus high line"), where=Phrase("high line to ground, awake, average"), unit="V"),
    Check(id="low_v", title=Phrase("Bus low line"), where=Phrase("low line to ground, awake, average"), unit="V"),
    Check(id="one_wire_idle", title=Phrase("One-wire bus, idle"), where=Phrase("line to ground, quiet"), unit="V"),
    Check(id="one_wire_low", title=Phrase("One-wire bus, lowest"), where=Phrase("least of the signal while it talks"), unit="V"),
    Check(id="relay_click", title=Phrase("Relay out: its click"), where=Phrase("coil on a battery"), unit="", of="relay", words=("silent", "clicks")),
    Check(id="relay_contact", title=Phrase("Relay out: drop over its contact"), where=Phrase("coil on a battery, a 4 A lamp through the contact"), unit="V", of="relay"),
)  # fmt: skip


def find_check(check_id: str) -> Check:
    """The check of that id; ReadingError names those there are."""
    found = next((c for c in CHECKS if c.id == check_id), None)
    if found is None:
        raise ReadingError(f"“{check_id[:40]}” is not a check; there are {', '.join(c.id for c in CHECKS)}")
    return found


def judge_check(check: Check, typed: str, supply_v: float, low_line: LowLine = LowLine.TWO) -> tuple[float, Judged]:
    """Judge a typed figure; `supply_v` [V] is what the one-wire bus is held against. ReadingError when it is none."""
    if check.words:
        if typed not in check.words:
            raise ReadingError(f"{check.title}: say {' or '.join(check.words)}")
        value = float(check.words.index(typed))
    else:
        value = parse_quantity(typed, check.unit).value
    return value, _JUDGES[check.id](value, supply_v, low_line)


def reading_of(check: Check, module: Module, sheet: Sheet, value: float) -> Reading | None:
    """A check as a reading on the circuit: a feed or ground drop in the state that wakes the module most, or whether it answers with the key on.
    None for what says nothing of the module itself: a bus pair is no part of any sheet."""
    told = value < DEAD_REFERENCE_V or REFERENCE_V[0] <= value <= REFERENCE_V[1]
    if check.id == "scan_tool" or (check.id == "reference" and told):
        word = ANSWER_WORDS[value >= DEAD_REFERENCE_V]
        return Reading(instrument=Instrument.ANSWERS, branch=module.id, state=_awake(sheet, module), word=word)
    if not check.on_circuit:
        return None
    state = sheet.cranking_state() or next(iter(sheet.states))
    red, black = (sheet.plus, module.supply) if check.id == "feed" else (module.ground, sheet.minus)
    return Reading(red=red, black=black, state=state, value=value)


def _awake(sheet: Sheet, module: Module) -> str:
    """The first state, not cranking nor running, in which a sound module lives; else the one that cranks."""
    network = network_of(sheet)
    for state, described in sheet.states.items():
        if not described.cranking and not described.rpm:
            supply_v = solve_state(network, state).between(module.supply, module.ground)[0]
            if supply_v >= module.alive_above_v:
                return state
    return sheet.cranking_state() or next(iter(sheet.states))


def _limits(
    good: tuple[float, float], weak: tuple[float, float], unit: str, source: str, words: dict[Verdict, str]
) -> Callable[[float, float, LowLine], Judged]:
    def judge(value: float, supply_v: float, low_line: LowLine) -> Judged:
        verdict = Verdict.GOOD if good[0] <= value <= good[1] else Verdict.WEAK if weak[0] <= value <= weak[1] else Verdict.BAD
        return Judged(
            verdict=verdict,
            text=words[verdict],
            limit=Phrase("{least:g} to {most:g} {unit}", least=good[0], most=good[1], unit=unit),
            source=source,
        )

    return judge


def _pair_ohm(value: float, supply_v: float, low_line: LowLine) -> Judged:
    source = Phrase("two 120 Ω ends in parallel: ISO 11898-2 (from memory); bands common practice")
    limit = Phrase("{least:g} to {most:g} {unit}", least=54, most=66, unit="Ω")
    if 54 <= value <= 66:
        return Judged(verdict=Verdict.GOOD, text=Phrase("Both ends are on the line."), limit=limit, source=source)
    if 108 <= value <= 132:
        return Judged(
            verdict=Verdict.BAD,
            text=Phrase("One end is missing: a line open between, or a member with an end unplugged."),
            limit=limit,
            source=source,
        )
    if value < 10:
        return Judged(
            verdict=Verdict.BAD,
            text=Phrase("The two lines are shorted together."),
            limit=limit,
            source=source,
            next_step=Phrase("Unplug members one by one."),
        )
    near = 45 <= value <= 80
    return Judged(
        verdict=Verdict.WEAK if near else Verdict.BAD, text=Phrase("Off: a third end, a resistive splice, or the bus is awake. Asleep, key off?"),
        limit=limit, source=source,
    )  # fmt: skip


def _low_v(value: float, supply_v: float, low_line: LowLine) -> Judged:
    floor = float(low_line.value)
    good = max(floor, 2.1 if low_line is LowLine.TWO else floor) <= value <= 2.4
    bad = value > 2.5 or value < floor
    return Judged(
        verdict=Verdict.GOOD if good else Verdict.BAD if bad else Verdict.WEAK,
        text=Phrase("The low line talks.") if good else Phrase("Too high: it does not pull down, or touches the high line.") if value > 2.4 else Phrase("Too low: loaded or shorted to ground."),
        limit=Phrase("{floor:g} to 2.4 V; over 2.5 V trouble", floor=floor), source=Phrase("common practice, no source; school: {low_line}", low_line=LOW_REASON[low_line]),
    )  # fmt: skip


def _one_wire(idle: bool) -> Callable[[float, float, LowLine], Judged]:
    def judge(value: float, supply_v: float, low_line: LowLine) -> Judged:
        share = value / supply_v
        good = share >= 0.8 if idle else share <= 0.2
        limit = (
            Phrase("over 80 % of the supply ({least_v:.1f} V)", least_v=0.8 * supply_v)
            if idle
            else Phrase("under 20 % of the supply ({most_v:.1f} V)", most_v=0.2 * supply_v)
        )
        wrong = (
            Phrase("Held down or no master.")
            if idle
            else Phrase("Does not reach the ground level: resistance in the line or a poor ground of who talks.")
        )
        return Judged(
            verdict=Verdict.GOOD if good else Verdict.BAD, text=Phrase("As it should be.") if good else wrong, limit=limit,
            source=Phrase("recessive over 80 %, dominant under 20 % of supply: ISO 17987-4 (from memory)"),
        )  # fmt: skip

    return judge


_BY_VERDICT: dict[str, dict[Verdict, str]] = {
    "feed": {Verdict.GOOD: Phrase("The feed arrives."), Verdict.WEAK: Phrase("The feed loses some: find where."), Verdict.BAD: Phrase("The feed loses too much: fuse, relay or wire before it.")},
    "ground": {Verdict.GOOD: Phrase("The ground holds."), Verdict.WEAK: Phrase("The ground loses some."), Verdict.BAD: Phrase("Poor ground: repair all wires on its eyelet.")},
    "reference": {Verdict.GOOD: Phrase("The module is alive and gives its reference."), Verdict.WEAK: Phrase("The reference is off: a sensor may load it. Unplug them one by one."), Verdict.BAD: Phrase("No reference: module without power, ground, or with a shorted sensor line.")},
    "scan_tool": {Verdict.GOOD: Phrase("The module lives and talks."), Verdict.WEAK: "", Verdict.BAD: Phrase("No answer: its power, its ground, the module, or the bus between.")},
    "relay_click": {Verdict.GOOD: Phrase("The coil pulls."), Verdict.WEAK: "", Verdict.BAD: Phrase("No click: coil or armature.")},
    "relay_contact": {
        Verdict.GOOD: Phrase("The contact carries a lamp."),
        Verdict.WEAK: Phrase("The contact loses some: burnt."),
        Verdict.BAD: Phrase("The contact is burnt, or does not close."),
    },
    "high_v": {Verdict.GOOD: Phrase("The high line talks."), Verdict.WEAK: Phrase("Near the edge."), Verdict.BAD: Phrase("Trouble on the high line: shorted or loaded.")},
}  # fmt: skip
_JUDGES: dict[str, Callable[[float, float, LowLine], Judged]] = {
    "feed": _limits((-0.05, MODULE_FEED_V), (-0.1, 2 * MODULE_FEED_V), "V", NO_SOURCE, _BY_VERDICT["feed"]),
    "ground": _limits(
        (-0.05, MODULE_GROUND_V), (-0.1, 2 * MODULE_GROUND_V), "V", Phrase("under 0.1 V: common practice, no source"), _BY_VERDICT["ground"]
    ),
    "scan_tool": _limits((1, 1), (1, 1), Phrase("an answer"), NO_SOURCE, _BY_VERDICT["scan_tool"]),
    "reference": _limits(REFERENCE_V, (4.75, 5.25), "V", NO_SOURCE, _BY_VERDICT["reference"]),
    "pair_ohm": _pair_ohm,
    "high_v": _limits(
        (2.5, 2.7),
        (2.1, 3.0),
        "V",
        Phrase("2.5 to 2.6 V average; trouble under 2.1 or over 2.8 to 3.0 V: common practice"),
        _BY_VERDICT["high_v"],
    ),
    "low_v": _low_v,
    "relay_click": _limits((1, 1), (1, 1), Phrase("a click"), NO_SOURCE, _BY_VERDICT["relay_click"]),
    "relay_contact": _limits((-0.1, 0.1), (-0.2, 0.2), "V", NO_SOURCE, _BY_VERDICT["relay_contact"]),
    "one_wire_idle": _one_wire(True),
    "one_wire_low": _one_wire(False),
}
