"""The next test: expected information over what the instrument could show, by the minutes it takes."""

from collections.abc import Sequence
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import PER_STRATUM, Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.findings import has_own_test, share_to_find
from iron_probe.core.diagnose.once_more import LEADS, on_the_part, taken_again, tried_again
from iron_probe.core.diagnose.outcomes import LOOSE_STEP, bits_beyond, halving_bits, information_bits, outcome_of, outcomes_of
from iron_probe.core.diagnose.own_test import proves, unproven
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.test_book import Candidate, TestBook, same_place
from iron_probe.core.diagnose.told_test import NextTest, told_test
from iron_probe.core.phrase import Phrase

WEIGHED_BESIDE, LATELY = 12, 6
"""So many of the best tests are weighed beside what was read, and beside so many of the newest readings."""
DISTURBED_VALUE = 0.35
"""A test that may move the fault keeps this share of its value."""
LIGHT_VALUE = 0.5
"""A drop along the heavy path without the starter's current keeps this share: a cable drop counts while the current it exists to
carry is flowing, and millivolts hang on how the probes sit (common practice)."""
UNHEARD_VALUE = 0.5
"""A test in a state that does not say whether a fault that comes and goes is there keeps this share: a crank does (common practice)."""
SAMPLE = 640
"""Variants drawn from what is left to work out the gain."""
ROUGH, SHORTLIST = 128, 120
"""All tests are first ranked on so many variants, and so many of them are then weighed on the whole sample."""
AT_PART_BITS = 0.1
"""Working from the dead part, a test there comes first while it tells this much."""
RISKED = 0.85
"""Share from which a leading fuse is worth a new one: what is left beside it may blow that too."""
LEAST_APART = 1.0
"""Outcomes by which an element's own test must set it apart from a sound machine to be worth making."""
ENOUGH_BITS = 0.02
"""A test that tells less than this is not offered."""
MOST_TRIES = 6
"""A test that was made so often while nothing showed is not offered again: what is there every other time would have shown in all but one of 64."""


class Order(StrEnum):
    """Whose order of work counts when several tests would tell something."""

    BEST = "best"
    DEAD_PART = "dead_part"
    SOURCE = "source"


ORDER_REASON: dict[Order, str] = {
    Order.BEST: Phrase("most information per minute, wherever it is (default: measured to take the fewest minutes)"),
    Order.DEAD_PART: Phrase(
        "at the dead part under load first, then toward the missing leg: what is proven there clears all upstream at once"
    ),
    Order.SOURCE: Phrase("source first, then halve the path: a weak battery makes every later figure lie"),
}


def next_tests(
    case: Case, book: TestBook, posterior: Posterior, readings: Sequence[Reading], order: Order = Order.BEST, most: int = 5
) -> list[NextTest]:
    """The tests worth making now, best first under the given order of work; empty when none would tell anything."""
    ensemble = case.ensemble
    chosen, labels, names = _draw(ensemble, posterior, book.unseen)
    there = [r for n, r in enumerate(readings, start=1) if n not in posterior.away]
    numbers = book.numbers_beside(_not_to_repeat(ensemble, readings, there))
    if order is Order.BEST:
        numbers = _shortlist(case, book, posterior, numbers, chosen, labels)
    outcomes = outcomes_of(ensemble, book, numbers, chosen)
    bits = np.where(book.last[numbers], 0.0, information_bits(outcomes, labels))  # never for what it tells
    before = readings[-1] if readings else None
    minutes = book.minutes(numbers, before)
    if order is not Order.BEST:  # a fixed order of work halves what is left, good against bad, and does not weigh
        halved = halving_bits(np.array([_sound_outcome(book, n) for n in numbers])[:, None] == outcomes, labels)
        if halved.max() > ENOUGH_BITS:  # good and bad no longer part them: then only figures do
            bits = halved
    value = bits * np.where(book.disturbs[numbers], DISTURBED_VALUE, 1.0) * np.where(book.light[numbers], LIGHT_VALUE, 1.0)
    if posterior.suspects and posterior.suspects[0].fleeting:
        value = value * np.where(book.cranking[numbers], 1.0, UNHEARD_VALUE)
    if order is Order.BEST:
        share = _said_before(case, book, numbers, outcomes, chosen, labels, value / minutes, bits, there)
        bits, value = bits * share, value * share
    closing = _proof(case, posterior, book, numbers, there)
    if closing is None:
        closing = _closing(case, posterior, book, numbers, there, outcomes, labels, names)
    first, rank = _ranked(order, [book.candidates[k] for k in numbers], value, minutes, book)
    ahead = list(dict.fromkeys([*([] if closing is None else [closing]), *first]))  # made whatever they tell
    found = []
    for k in [*ahead, *(k for k in rank if k not in ahead and bits[k] >= ENOUGH_BITS)][:most]:
        found.append(_worded(case, posterior, book, numbers[k], float(bits[k]), float(minutes[k]), order, k == closing))
    again = [*tried_again(case, posterior, book, readings), *taken_again(case, posterior, book, readings)]
    return [*again, *on_the_part(case, posterior, book, there), *found][:most]


def _said_before(
    case: Case, book: TestBook, numbers: Sequence[int], outcomes: NDArray[np.int32], chosen: NDArray[np.int64], labels: NDArray[np.int64],
    worth: Floats, bits: Floats, readings: Sequence[Reading],
) -> Floats:  # fmt: skip
    """Share (tests,) of what each would tell that volts read before in its state have not told already; of the best by their worth only."""
    share = np.ones(len(numbers))
    best = [int(k) for k in np.argsort(-worth)[:WEIGHED_BESIDE] if bits[k] >= ENOUGH_BITS]
    best = [k for k in best if book.candidates[numbers[k]].reading.instrument is Instrument.VOLTMETER]
    latest = dict.fromkeys(book.number_of(r) for r in readings[-LATELY:] if r.instrument is Instrument.VOLTMETER)
    made = [n for n in latest if n is not None]
    for state in dict.fromkeys(book.candidates[n].reading.state for n in made):
        near = [k for k in best if book.candidates[numbers[k]].reading.state == state]
        read = [n for n in made if book.candidates[n].reading.state == state]
        if near:
            beyond = bits_beyond(case.ensemble, book, [numbers[k] for k in near], outcomes[near], chosen, labels, read)
            share[near] = np.minimum(1.0, beyond.min(axis=0) / bits[near])
    return share


def _not_to_repeat(ensemble: Ensemble, readings: Sequence[Reading], there: Sequence[Reading]) -> Sequence[Reading]:
    """Readings whose tests are not made again: those while the fault was `there`, the others while their state is still held, and what was tried
    often enough. A crank is another attempt every time."""
    if len(there) == len(readings):
        return readings
    held = readings[-1].state
    standing = [] if ensemble.sheet.state(held).cranking else [r for r in readings if r.state == held]
    tried = [r for r in readings if sum(same_place(r, other) for other in readings) >= MOST_TRIES]
    return [*there, *standing, *tried]


def _shortlist(
    case: Case,
    book: TestBook,
    posterior: Posterior,
    numbers: Sequence[int],
    chosen: NDArray[np.int64],
    labels: NDArray[np.int64],
) -> list[int]:
    """The tests that could be the best, by a thinner sample; those of the leading element's own or proof always stay."""
    if len(numbers) <= SHORTLIST:
        return list(numbers)
    every = SAMPLE // ROUGH
    strata = chosen[::every] // PER_STRATUM
    rough = information_bits(np.ascontiguousarray(book.rough.T[strata].T[numbers]), labels[::every])
    worth = rough * np.where(book.light[numbers], LIGHT_VALUE, 1.0) / book.own_minutes[numbers]
    kept = {numbers[int(k)] for k in np.argsort(-worth)[:SHORTLIST]}
    if posterior.lead >= LEADS:
        leader = posterior.suspects[0]
        kept |= set(numbers) & (book.own_tests(leader.element, leader.mode) | book.proofs(leader.element, leader.mode))
    return sorted(kept)


def _draw(ensemble: Ensemble, posterior: Posterior, unseen: Bools) -> tuple[NDArray[np.int64], NDArray[np.int64], list[str]]:
    """A sample of what is left, spread evenly over the weights, with the number of the element each variant accuses."""
    weights = np.cumsum(posterior.weights)
    chosen = np.searchsorted(weights, (np.arange(SAMPLE) + 0.5) / SAMPLE * weights[-1])
    names = ["", *ensemble.accusing]
    of_hypothesis = np.zeros(len(ensemble.hypotheses), dtype=np.int64)
    for number, accusing in enumerate(ensemble.accusing.values(), start=1):
        of_hypothesis[accusing] = number
    of_hypothesis[unseen] = 0  # no test parts it from a sound machine
    labels = of_hypothesis[chosen // ensemble.size]
    if not posterior.stands:
        labels[ensemble.turns_well.ravel()[chosen]] = 0
    return chosen, labels, names


def _sound_outcome(book: TestBook, number: int) -> int:
    """The commonest outcome of a test on sound machines."""
    seen = outcome_of(book.candidates[number].reading, book.sound[number], float(book.blur[number]), book.ensemble.sheet.system_v)
    return int(np.median(seen))


def _proof(case: Case, posterior: Posterior, book: TestBook, numbers: Sequence[int], readings: Sequence[Reading]) -> int | None:
    """Once a leading element's own test is made: the quickest test that still lacks to prove its power, ground or command."""
    if posterior.found or posterior.lead < LEADS:
        return None
    leader = posterior.suspects[0]
    for own in reversed(readings):
        if not proves(case.ensemble.network, leader.element, leader.mode, own):
            continue
        lacking = unproven(case.ensemble.network, leader.element, leader.mode, own.state, readings)
        if posterior.lead < RISKED:
            lacking = [t for t in lacking if Instrument.NEW_FUSE not in t.instruments]
        fitting = [
            k for k, n in enumerate(numbers)
            if any(t.done_by(book.candidates[n].reading) and (t.states or book.candidates[n].reading.state == own.state) for t in lacking)
        ]  # fmt: skip
        return min(fitting, key=lambda k: book.candidates[numbers[k]].minutes, default=None)
    return None


def _closing(
    case: Case,
    posterior: Posterior,
    book: TestBook,
    numbers: Sequence[int],
    readings: Sequence[Reading],
    outcomes: NDArray[np.int32],
    labels: NDArray[np.int64],
    names: list[str],
) -> int | None:
    """The quickest test of the leading element's own that sets it apart from a sound machine, once it leads clearly."""
    if posterior.found or posterior.lead < LEADS:
        return None
    leader, network = posterior.suspects[0], case.ensemble.network
    if posterior.lead < share_to_find(network, leader) and has_own_test(network, leader, readings):
        return None  # its own test is made, and others are left beside it: what sets them apart comes next
    mine = labels == names.index(leader.element)
    if not mine.any():
        return None
    best, least, own = None, np.inf, book.own_tests(leader.element, leader.mode)
    for k, number in enumerate(numbers):
        candidate = book.candidates[number]
        if number not in own or candidate.reading.value is None:
            continue
        good = np.median(outcome_of(candidate.reading, book.sound[number], float(book.blur[number]), network.sheet.system_v))
        shown = outcomes[k][mine]
        apart = np.abs(np.median(np.where(shown == LOOSE_STEP, good, shown)) - good)  # on a loose wire no figure tells it from a sound one
        dear = (3.0 if candidate.disturbs else 1.0) / (1.0 if book.cranking[number] or not leader.fleeting else UNHEARD_VALUE)
        cost = candidate.minutes * dear / min(apart, 8.0) if apart >= LEAST_APART else np.inf
        if cost < least:
            best, least = k, cost
    return best


def _ranked(order: Order, tests: Sequence[Candidate], value: Floats, minutes: Floats, book: TestBook) -> tuple[list[int], list[int]]:
    """Numbers of the tests an order of work begins with, and of all tests by what they tell."""
    first: list[int] = []
    score = value / minutes
    if order is not Order.BEST and book.ensemble.work is Scope.CHARGING:  # the fixed order of charging work: output, drops, small wires
        rank = {k: _charging_step(book, c.reading) for k, c in enumerate(tests)}
        usable = [k for k in rank if value[k] > ENOUGH_BITS]
        return [], sorted(usable, key=lambda k: (rank[k], -float(value[k])))
    if order is not Order.BEST:
        score = np.where(value > ENOUGH_BITS, value, 0.0)
        network = book.ensemble.network
        load = network.branches[network.find_branch(book.heavy.load)]
        if order is Order.SOURCE:
            wanted, least = {network.sheet.plus, network.sheet.minus}, 0.0
        else:
            on_path = {name.partition(".")[0] for name in book.heavy.supply}
            near = (o for o in network.owners if load.start in o.points() or o.id in on_path)
            at_part = [o for o in near if o.type in ("starter", "solenoid", "relay")]
            wanted = {p for o in at_part for p in o.points()} | {
                *book.heavy.supply_points[-2:],
                *book.heavy.ground_points[:1],
                network.sheet.minus,
            }
            least = AT_PART_BITS
        states = (next(iter(network.sheet.states)), network.sheet.cranking_state())
        at_hand = [c.reading.red is not None and {c.reading.red, c.reading.black} <= wanted and c.reading.state in states for c in tests]
        first = sorted((k for k, near in enumerate(at_hand) if near and value[k] >= least), key=lambda k: -float(score[k]))
    return first, [int(k) for k in np.argsort(-score, kind="stable")]


def _charging_step(book: TestBook, reading: Reading) -> int:
    """Place of a test in the usual order: output at the battery, B+ drop, case drop, small wires, the rest."""
    sheet, network = book.ensemble.sheet, book.ensemble.network
    leads = {reading.red, reading.black}
    ends = {p for g in network.generators for p in (g.element.b, g.element.case)}
    if leads == {sheet.plus, sheet.minus} or reading.instrument is Instrument.FUNCTION:
        return 0
    if leads & ends and leads & {sheet.plus, sheet.minus}:
        return 1
    small = {p for g in network.generators for p in g.element.points()} - ends
    return 2 if leads & small else 3


def _worded(
    case: Case, posterior: Posterior, book: TestBook, number: int, bits: float, minutes: float, order: Order, closing: bool
) -> NextTest:
    """A test of the ranking with its reason: what it tells, or whose own test or proof it is."""
    reading, network = book.candidates[number].reading, case.ensemble.network
    if closing:
        leader = posterior.suspects[0]
        own = proves(network, leader.element, leader.mode, reading)
        what = Phrase("its own test, and without it nothing is found") if own else Phrase("the proof of its power, ground or command")
        title = network.sheet.element(leader.element).title
        why = Phrase("{title} leads with {lead:.0%}: this is {what}", title=title, lead=posterior.lead, what=what)
        return told_test(case, posterior, book, number, reading, bits, minutes, why, leader.element)
    why = {
        Order.BEST: Phrase("tells {bits:.2f} bit in {minutes:.1f} min, the most for the time", bits=bits, minutes=minutes),
        Order.DEAD_PART: Phrase("at the dead part, then toward the missing leg; tells {bits:.2f} bit", bits=bits),
        Order.SOURCE: Phrase("source first, then halve what is left; tells {bits:.2f} bit", bits=bits),
    }[order]
    return told_test(case, posterior, book, number, reading, bits, minutes, why)
