"""The next test: orders of work, closing tests, a figure taken again."""

from dataclasses import replace

import numpy as np
import pytest

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.next_test import MOST_TRIES, Order, next_tests
from iron_probe.core.diagnose.test_book import TestBook, same_place
from iron_probe.core.diagnose.trial import hide_one, work
from iron_probe.machines import load_sheet


@pytest.fixture(scope="module")
def bench() -> tuple[Case, TestBook]:
    ensemble = Ensemble(load_sheet("piste-sled"))
    return Case(ensemble), TestBook(ensemble)


def test_reasons_and_expectations_come_with_every_test(bench: tuple[Case, TestBook]) -> None:
    case, book = bench
    readings = [Reading(instrument=Instrument.EYES, state="crank", word="nothing")]
    posterior = case.posterior(readings)
    tests = next_tests(case, book, posterior, readings)
    assert tests
    for test in tests:
        assert test.minutes > 0
        assert test.why
        assert len(test.by_suspect) >= 2


def test_orders_of_work_differ(bench: tuple[Case, TestBook]) -> None:
    case, book = bench
    readings = [Reading(instrument=Instrument.EYES, state="crank", word="nothing")]
    posterior = case.posterior(readings)
    first = {o: next_tests(case, book, posterior, readings, o, most=1)[0].reading for o in Order}
    assert {first[Order.SOURCE].red, first[Order.SOURCE].black} == {"bat.plus", "bat.minus"}
    at_part = {"starter.B", "starter.case", "sol.in", "sol.out", "sol.coil", "sol.gnd", "bat.minus", "block"}
    assert {first[Order.DEAD_PART].red, first[Order.DEAD_PART].black} <= at_part


def test_ten_hidden_faults_are_found_with_their_own_test(bench: tuple[Case, TestBook]) -> None:
    case, book = bench
    for seed in range(10):
        hidden = hide_one(case.ensemble.network, case.ensemble.modes, np.random.default_rng(seed))
        outcome = work(case, hidden, lambda c, p, r: next(iter(next_tests(c, book, p, r, most=1)), None))
        assert outcome.named in outcome.hidden, (seed, outcome)


def test_what_was_tried_in_vain_often_enough_is_not_offered_again(bench: tuple[Case, TestBook]) -> None:
    """A fault that comes and goes is looked for again while it may show, and not for ever."""
    case, book = bench
    sheet = case.ensemble.sheet
    asked = next_tests(case, book, case.posterior([]), [], most=1)[0].reading
    other = Reading(red=sheet.plus, black=sheet.minus, state=next(s for s in case.ensemble.states if s != asked.state), value=12.6)
    for times, offered in ((MOST_TRIES - 1, True), (MOST_TRIES, False)):
        readings = [*[asked] * times, other]
        left = replace(case.posterior([]), away=tuple(range(1, times + 1)))
        assert any(same_place(t.reading, asked) for t in next_tests(case, book, left, readings, most=len(book.candidates))) is offered
