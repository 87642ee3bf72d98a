"""Answers drawn at random among the legal ones, and what is not sound about the machine composed from them."""

import random
from collections.abc import Iterator

from bench.plate_boxes import clashes
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Alternator, Battery, Charger, Conditions, Module, Rectifier
from iron_probe.core.circuit.network import build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.compose.compose import Composed
from iron_probe.core.compose.feeds import read_feeds, sleepers
from iron_probe.core.compose.pattern_book import PatternBook
from iron_probe.core.compose.settle import Answer, open_choices
from iron_probe.core.draw.feed_map import lay_out
from iron_probe.core.errors import SheetError
from iron_probe.core.solve.solution import Symptom
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes
from iron_probe.core.whole_sheet import overloads, read_whole_sheet

CHARGES_OVER_V = 0.3
"""Over its rest volts by so much of 12 V a machine counts as charging: a dynamo or a splitter leaves no more."""
STILL_A = 0.004
"""What instruments and sense wires may draw asleep beside what sleeps [A]."""
ASLEEP_WITHIN = 0.12


def said_at_random(book: PatternBook, seed: int) -> dict[str, str | list[str]]:
    """Legal answers to everything; each choice as likely as the others."""
    chance = random.Random(seed)
    said: dict[str, str | list[str]] = {"kind": chance.choice(list(book.kinds))}
    answers: dict[str, Answer] = {}
    for name, question in book.questions.items():
        if question.text:
            continue
        choices = open_choices(question, answers)
        if not choices:
            continue
        if question.many:
            said[name] = [c for c in choices if chance.random() < 0.3]
            answers[name] = tuple(said[name])
        else:
            answers[name] = said[name] = chance.choice(choices)
    return said


def unsound(composed: Composed) -> list[str]:
    """What a machine composed from legal answers does that it must not."""
    try:
        sheet = read_whole_sheet(composed.text)
    except SheetError as error:
        return [str(error)]
    return [*composed_mistakes(composed), *_cranks(sheet), *_charges(sheet), *_sleeps(composed), *_drawn(sheet), *_overloaded(sheet)]


def composed_mistakes(composed: Composed) -> list[str]:
    """Mistakes in answers that are legal."""
    return [str(m) for m in composed.mistakes]


def _cranks(sheet: Sheet) -> Iterator[str]:
    for name, state in sheet.states.items():
        if state.cranking:
            code = int(symptom_codes(good_machine(sheet, name, Conditions()).solution)[0])
            if SYMPTOMS[code] is not Symptom.CRANKS:
                yield f"{name}: {SYMPTOMS[code]}"
        elif state.cautions and any("interlock" in c for c in state.cautions):
            code = int(symptom_codes(good_machine(sheet, name, Conditions()).solution)[0])
            if SYMPTOMS[code] in (Symptom.CRANKS, Symptom.SLOW):
                yield f"{name}: cranks with its interlock open"


def _charges(sheet: Sheet) -> Iterator[str]:
    if not any(isinstance(e, Alternator | Rectifier | Charger) for e in sheet.elements):
        return
    at_rest = good_machine(sheet, "rest", Conditions()).expected(sheet.plus, sheet.minus)[0]
    makers = [e for e in sheet.elements if isinstance(e, Alternator | Rectifier)]
    states = ["fast"] if makers else [s for s, state in sheet.states.items() if s in ("ready", "towed", "oncharge")]
    for state in states:
        volts = good_machine(sheet, state, Conditions()).expected(sheet.plus, sheet.minus)[0]
        if volts < at_rest + CHARGES_OVER_V * sheet.system_v / 12:
            yield f"{state}: {volts:.2f} V at the posts against {at_rest:.2f} V at rest"
        if volts > 15.6 * sheet.system_v / 12:
            yield f"{state}: {volts:.2f} V at the posts"


def _sleeps(composed: Composed) -> Iterator[str]:
    sheet = composed.sheet
    own = [ma for _, ma in sleepers(str(composed.settled.answers["sleeps"]))[0]] + [
        f.asleep_ma for f in read_feeds(str(composed.settled.answers["feeds"]))[0]
    ]
    network = good_machine(sheet, "rest", Conditions()).network
    solution = good_machine(sheet, "rest", Conditions()).solution
    given_w = 0.0
    for number, battery in enumerate(network.owners):
        if isinstance(battery, Battery):
            given_w -= float(solution.amps[number, 0]) * battery.volts
    drawn = given_w / sheet.system_v
    extra = sum(e.asleep_a for e in sheet.elements if isinstance(e, Module) and composed.came_from[e.id] not in ("feeds", "sleeps"))
    wanted = sum(own) / 1000 + extra
    if abs(drawn - wanted) > STILL_A + ASLEEP_WITHIN * wanted:
        yield f"rest: draws {1000 * drawn:.1f} mA of {1000 * wanted:.1f} mA"


def _drawn(sheet: Sheet) -> list[str]:
    return clashes(lay_out(build_network(sheet)))


def _overloaded(sheet: Sheet) -> Iterator[str]:
    for state, over in overloads(sheet):
        yield f"{state}: {over.element} carries {over.amps:.0f} A of {over.allowed_a:.0f} A"
