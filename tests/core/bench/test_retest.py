"""Before and after a repair."""

import pytest

from iron_probe.core.bench.retest import Retest, compare


def test_retest_against_a_band_asks_for_no_less() -> None:
    assert compare("a", "b", "fast", 12.4, 14.2, 14.8, 13.9).outcome is Retest.WITHIN
    assert compare("a", "b", "fast", 12.4, 13.2, 14.8, 13.9).outcome is Retest.STILL_OVER
    assert compare("a", "b", "fast", 14.2, 15.6, 14.8, 13.9).outcome is Retest.WORSE


@pytest.mark.parametrize(
    ("before", "after", "outcome"),
    [
        (0.8, 0.05, Retest.WITHIN),
        (0.8, 0.3, Retest.STILL_OVER),
        (0.8, 0.78, Retest.UNCHANGED),
        (0.8, 1.2, Retest.WORSE),
        (0.8, None, Retest.OPEN),
    ],
)
def test_retest(before: float, after: float | None, outcome: Retest) -> None:
    assert compare("a", "b", "crank", before, after, 0.1).outcome is outcome
