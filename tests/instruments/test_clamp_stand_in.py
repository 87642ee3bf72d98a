"""The stand-in clamp falls asleep as its sheet says, and never reads below nothing."""

from itertools import islice

import pytest

from iron_probe.core.errors import ReadingError
from iron_probe.instruments.clamp_stand_in import totals
from iron_probe.machines import load_sheet

CAR = load_sheet("pool-car")


def test_it_starts_awake_and_its_day_is_the_same_each_time() -> None:
    day = list(islice(totals(CAR), 4000))
    assert day == list(islice(totals(CAR), 4000))
    assert [s for s, _ in day] == [float(k) for k in range(4000)]
    assert day[0][1] > 5 * day[-1][1] and min(a for _, a in day) >= 0


def test_a_module_that_is_none_is_told() -> None:
    with pytest.raises(ReadingError, match="nobody"):
        next(totals(CAR, "nobody"))
