"""Tests made whatever they tell."""

from dataclasses import replace

import numpy as np
import pytest

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.diagnose.next_test import next_tests
from iron_probe.core.diagnose.once_more import on_the_part, tried_again
from iron_probe.core.diagnose.test_book import TestBook
from tests.core.diagnose.mower import Hidden, heard


@pytest.mark.parametrize("slipped", [-1.0, 0.1])
def test_a_figure_that_fits_nothing_is_asked_for_again(case: Case, bolt: Hidden, ensemble: Ensemble, slipped: float) -> None:
    """Of two figures that deny each other either may be the slip: what is asked for again is one of them, and what it then shows decides."""
    book = TestBook(ensemble)
    true = bolt.volts("block", "frame.eye")
    odd = true.model_copy(update={"value": round((true.value or 0) * slipped, 2)})
    readings = [
        heard("slow"), bolt.volts("bat.plus", "bat.minus"), bolt.volts("frame", "frame.eye"), bolt.volts("bat.plus", "starter.B"), odd
    ]  # fmt: skip
    posterior = case.posterior(readings)
    assert set(posterior.unexplained) & {3, 5} and posterior.found is None
    for _ in range(2):
        asked = next_tests(case, book, posterior, readings)[0]
        if asked.again is None:
            break
        assert asked.again in (3, 5) and asked.why.startswith("fits nothing")
        readings = [*readings, bolt.volts(asked.reading.red or "", asked.reading.black or "")]
        posterior = case.posterior(readings)
    assert posterior.suspects[0].element == "frame-bolt" and posterior.suspects[0].p > 0.8
    assert all(t.again is None for t in next_tests(case, book, posterior, readings))


def test_the_drop_is_asked_for_on_the_part_itself_before_a_conductor_is_found(ensemble: Ensemble, case: Case, bolt: Hidden) -> None:
    around = [heard("slow"), bolt.volts("block", "frame"), bolt.volts("frame.eye", "bat.minus"), bolt.volts("frame", "frame.eye")]
    left = case.posterior(around)
    asked = next_tests(case, TestBook(ensemble), left, around)[0]
    assert (asked.reading.branch, {asked.reading.red, asked.reading.black}) == ("frame-bolt", {"frame", "frame.eye"})
    assert asked.closing == "frame-bolt" and np.isclose(asked.expected_good, 0, atol=0.1)
    made = asked.reading.model_copy(update={"value": around[-1].value})
    assert case.posterior([*around, made]).found == "frame-bolt"


def test_the_reading_that_alone_decides_between_a_part_and_what_lies_beside_it_is_taken_twice(
    ensemble: Ensemble, case: Case, bolt: Hidden
) -> None:
    across = bolt.volts("frame", "frame.eye")
    itself = across.model_copy(update={"branch": "frame-bolt", "value": 0.004})
    readings = [heard("slow"), bolt.volts("block", "frame"), bolt.volts("frame.eye", "bat.minus"), across, itself]
    left = case.posterior(readings)
    torn = replace(
        left, suspects=(replace(left.suspects[0], element="frame-bolt", mode="high_resistance", p=0.4),), beside=(("frame-bolt", 0.5),)
    )
    book = TestBook(ensemble)
    (asked,) = on_the_part(case, torn, book, readings)
    assert asked.reading.itself == "frame-bolt" and "once more" in asked.why
    assert on_the_part(case, torn, book, [*readings, itself]) == []
    clear = replace(torn, beside=(("frame-bolt", 0.05),), suspects=(replace(torn.suspects[0], p=0.9),))
    assert on_the_part(case, clear, book, readings) == []


def test_a_complaint_that_nothing_explains_is_tried_again_once_and_stands_until_it_does_not_come(ensemble: Ensemble, case: Case) -> None:
    book, told = TestBook(ensemble), heard("slow")
    left = replace(case.posterior([told]), no_fault=0.95)
    assert left.stands == ("crank",) and not left.sound
    (asked,) = tried_again(case, left, book, [told])
    assert (asked.reading.instrument, asked.reading.state) == (Instrument.EYES, "crank")
    slow, well = (heard(word).model_copy(update={"crank": 1}) for word in ("slow", "cranks"))
    still = replace(case.posterior([told, slow]), no_fault=0.95)
    assert not still.sound and tried_again(case, still, book, [told, slow]) == []  # it does: go on looking
    assert replace(case.posterior([told, well]), no_fault=0.95).sound
    assert replace(case.posterior([slow, well.model_copy(update={"crank": 2})]), no_fault=0.95).sound
    assert not replace(case.posterior([well, slow.model_copy(update={"crank": 2})]), no_fault=0.95).sound
