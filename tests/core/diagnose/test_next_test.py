"""The next test: orders of work, closing tests, a figure taken again."""

import numpy as np
import pytest

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.next_test import Order, next_tests
from iron_probe.core.diagnose.test_book import TestBook
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
