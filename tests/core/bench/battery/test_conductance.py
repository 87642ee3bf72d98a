"""A tester's figure and internal resistance against the rating."""

import pytest

from iron_probe.core.bench.battery.conductance import judge_conductance, judge_resistance
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.errors import ReadingError


def test_conductance_wants_the_same_rating_and_a_charged_battery() -> None:
    assert judge_conductance(560, "CCA", 600, "SAE", 0.9).verdict is Verdict.GOOD
    assert judge_conductance(300, "CCA", 600, "CCA", 0.9).verdict is Verdict.BAD
    assert judge_conductance(300, "CCA", 600, "CCA", 0.3).verdict is Verdict.OPEN
    with pytest.raises(ReadingError, match="no conversion with a source"):
        judge_conductance(560, "CCA", 600, "EN", 0.9)
    with pytest.raises(ReadingError, match="case size"):
        judge_conductance(560, "JIS", 600, "CCA", 0.9)


def test_resistance_is_held_against_a_healthy_one_of_that_rating() -> None:
    assert judge_resistance(0.005, 600, 25, 1.0).verdict is Verdict.GOOD
    assert judge_resistance(0.012, 600, 25, 1.0).verdict is Verdict.BAD
    assert judge_resistance(0.012, 600, 25, None).verdict is Verdict.OPEN
