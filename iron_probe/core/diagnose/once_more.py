"""Tests made whatever they tell: a complaint tried again, a figure taken again, a drop read on the part itself."""

from collections.abc import Sequence

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.evidence import BY_ITSELF, Instrument, Reading
from iron_probe.core.diagnose.fault_mode import beside_it, on_itself
from iron_probe.core.diagnose.likelihood import loose
from iron_probe.core.diagnose.own_test import own_test
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.test_book import TestBook, same_place
from iron_probe.core.diagnose.told_test import NextTest, told_test
from iron_probe.core.limits import READ_MINUTES
from iron_probe.core.phrase import Phrase
from iron_probe.core.solve.solution import Symptom

UNDECIDED = 0.1
"""What a part and what lies beside it must both hold for the reading that decides between them to be taken twice."""
LEADS = 0.7
"""An element that holds this share is put to its own test next."""
HALF = 0.5
"""From this share on the reading that a way to ground rests on is asked for again."""
LOOSE_LEFT = 0.1
"""Share of what is left that leaves a lead on a loose wire, from which a figure there is not asked for again."""


def tried_again(case: Case, posterior: Posterior, book: TestBook, readings: Sequence[Reading]) -> list[NextTest]:
    """What was complained of before any crank was counted, once more, when nothing else is left: it may be cured, or never have been true."""
    if not posterior.nothing_wrong:
        return []
    for state in posterior.stands:
        number = book.number_of(Reading(instrument=Instrument.EYES, state=state, word=Symptom.NOTHING))
        if number is None or any(r.did and r.state == state and r.crank for r in readings):
            continue
        why = Phrase("nothing is wrong in what was tested: does it still do what was complained of?")
        minutes = float(book.minutes([number], readings[-1])[0])
        return [told_test(case, posterior, book, number, book.candidates[number].reading, 0.0, minutes, why)]
    return []


def taken_again(case: Case, posterior: Posterior, book: TestBook, readings: Sequence[Reading]) -> list[NextTest]:
    """A figure or what was heard that what is left does not explain, once more, before anything else and the newest first: until then a slip and a fault
    that no drawing shows cannot be told apart."""
    for n in posterior.unexplained[::-1]:
        reading = readings[n - 1]
        number = book.number_of(reading)
        once = sum(same_place(r, reading) for r in readings) == 1
        word = reading.instrument is Instrument.EYES
        if number is None or (reading.value is None and not word) or not once or _perhaps_loose(case, posterior, reading):
            continue
        how = Phrase("try it again and listen") if word else Phrase("take it again, clean tips, right points, right state")
        why = Phrase("fits nothing that is left: {how}", how=how)
        minutes = float(book.minutes([number], readings[-1])[0])
        return [told_test(case, posterior, book, number, book.candidates[number].reading, 0.0, minutes, why, again=n)]
    return _rests_on_one(case, posterior, book, readings)


def _rests_on_one(case: Case, posterior: Posterior, book: TestBook, readings: Sequence[Reading]) -> list[NextTest]:
    """The one reading by which a way to ground that the drawing lacks is all but found, once more: no test of its own shows it."""
    n = posterior.rests_on
    number = book.number_of(readings[n - 1]) if n is not None and posterior.grounded[0][1] >= HALF else None
    if n is None or number is None:
        return []
    why = Phrase("alone decides that something lies beside a part that is sound by itself: once more")
    minutes = float(book.minutes([number], readings[-1])[0])
    return [told_test(case, posterior, book, number, book.candidates[number].reading, 0.0, minutes, why, again=n)]


def on_the_part(case: Case, posterior: Posterior, book: TestBook, readings: Sequence[Reading]) -> list[NextTest]:
    """The drop over a leading conductor once more with both probes on the part itself: what the drawing lacks may lie at its end. Where that
    reading alone decides between the two, it is taken twice."""
    network, leader = case.ensemble.network, posterior.suspects[0] if posterior.suspects else None
    if posterior.settled or leader is None or not beside_it(network, leader.element, leader.mode):
        return []
    beside = dict(posterior.beside).get(leader.element, 0.0) + dict(posterior.grounded).get(leader.element, 0.0)
    beside *= posterior.lead / leader.p
    if posterior.lead + beside < LEADS:
        return []
    looks = 1 if min(posterior.lead, beside) < UNDECIDED else 2
    if not on_itself(network, leader.element, leader.mode):
        return _alone_again(case, posterior, book, readings, leader.element) if looks > 1 else []
    for reading in reversed(readings):
        number = book.number_of(reading)
        if number is None or reading.instrument is not Instrument.VOLTMETER or not own_test(network, leader.element, reading):
            continue
        asked = book.candidates[number].reading.model_copy(update={"branch": leader.element})
        made = sum(r.itself == leader.element and r.state == asked.state for r in readings)
        if made >= looks or _perhaps_loose(case, posterior, reading):
            continue
        why = Phrase("both probes on the part itself: a drop that is gone then lies beside it, in a joint the drawing lacks")
        if made:
            why = Phrase("both probes on the part itself once more: this reading alone decides between the part and what lies beside it")
        return [told_test(case, posterior, book, number, asked, 0.0, float(READ_MINUTES), why, leader.element)]
    return []


def _alone_again(case: Case, posterior: Posterior, book: TestBook, readings: Sequence[Reading], element: str) -> list[NextTest]:
    """Ohms of a part alone once more, where they alone decide between it and a bridge beside it."""
    made = [r for r in readings if r.instrument in BY_ITSELF and r.on_part == element]
    number = book.number_of(made[0]) if len(made) == 1 else None
    if number is None:
        return []
    why = Phrase("its ohms once more: they alone decide between the part and a way to ground beside it that the drawing lacks")
    minutes = float(book.minutes([number], readings[-1])[0])
    return [told_test(case, posterior, book, number, book.candidates[number].reading, 0.0, minutes, why, element)]


def _perhaps_loose(case: Case, posterior: Posterior, reading: Reading) -> bool:
    """Whether a lead may hang on a loose wire by what is left: another figure there would say no more."""
    if reading.instrument is not Instrument.VOLTMETER:
        return False
    row, own_ohm = case.ensemble.network.point_row, case.ensemble.first(reading.state).own_ohm
    hanging = loose(own_ohm[row[reading.red or ""]], own_ohm[row[reading.black or ""]])
    return float(posterior.weights[hanging].sum()) > LOOSE_LEFT
