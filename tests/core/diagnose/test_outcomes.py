"""Information against enumeration."""

import numpy as np
import pytest
from scipy.stats import entropy

from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.diagnose.outcomes import bits_beyond, halving_bits, information_bits, outcome_of, outcomes_of
from iron_probe.core.diagnose.test_book import TestBook


def test_gain_equals_enumeration() -> None:
    """Mutual information by scipy.stats.entropy over the whole joint table, on toy cases with known outcomes."""
    rng = np.random.default_rng(3)
    labels = rng.integers(0, 5, 400)
    outcomes = np.stack([labels % 2, rng.integers(-3, 4, 400), labels * 7 - 9, np.zeros(400, dtype=int)]).astype(np.int32)
    for row, found in zip(outcomes, information_bits(outcomes, labels), strict=True):
        table = np.zeros((5, 64))
        for a, b in zip(labels, row, strict=True):
            table[a, b + 20] += 1 / 400
        expected = entropy(table.sum(0), base=2) + entropy(table.sum(1), base=2) - entropy(table.ravel(), base=2)
        assert found == pytest.approx(expected, abs=1e-9)


def test_halving_is_best_at_half() -> None:
    labels = np.repeat(np.arange(8), 10)
    good = np.stack([labels < k for k in range(1, 8)])
    bits = halving_bits(good, labels)
    assert bits.argmax() == 3
    assert bits[3] == pytest.approx(1.0, abs=1e-9)


def test_the_next_point_along_says_nothing_that_was_not_read_before(ensemble: Ensemble) -> None:
    """At rest every point of the sound feed shows the battery's volts: the second tells nothing beside the first, posts under load do."""
    book = TestBook(ensemble)
    flat = next(k for k, h in enumerate(ensemble.hypotheses) if h.modes and (h.modes[0].element, h.modes[0].name) == ("battery", "flat"))
    dead = next(k for k, h in enumerate(ensemble.hypotheses) if h.modes and h.modes[0].name == "dead_cell")
    chosen = np.concatenate([k * ensemble.size + np.arange(ensemble.size) for k in (0, flat, dead)])
    labels = np.repeat(np.arange(3), ensemble.size)

    def number(point: str, state: str) -> int:
        found = book.number_of(Reading(red=point, black="bat.minus", state=state, value=0.0))
        assert found is not None
        return found

    read, along = number("bat.plus", "rest"), [number("plus.eye", "rest"), number("starter.B", "rest")]
    outcomes = outcomes_of(ensemble, book, along, chosen)
    alone = information_bits(outcomes, labels)
    assert alone[0] > 0.5 and bits_beyond(ensemble, book, along, outcomes, chosen, labels, [read])[0, 0] < 0.05


def test_volts_fall_into_steps_that_only_rise_and_are_fine_again_near_the_source() -> None:
    reading = Reading(red="a", black="b", state="run", value=0.0)
    shown = np.linspace(-16, 16, 6401)
    steps = outcome_of(reading, shown, 0.0, 12.0)
    assert (np.diff(steps) >= 0).all() and (np.diff(steps) <= 1).all()
    assert np.array_equal(steps, -steps[::-1])

    def within(low: float, high: float) -> int:
        return len(np.unique(steps[(shown >= low) & (shown < high)]))

    assert within(11.5, 12.5) > within(6.5, 7.5)
