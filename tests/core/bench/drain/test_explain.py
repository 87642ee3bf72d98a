"""Drain or battery: which explains the complaint."""

import numpy as np
import pytest

from iron_probe.core.bench.drain.explain import judge_together, not_reproduced
from iron_probe.core.bench.drain.sleep_record import read_sleep
from iron_probe.core.errors import ReadingError
from tests.core.bench.drain.nights import SHUTTLE, night


def test_which_of_drain_and_battery_explains_the_complaint() -> None:
    strong, weak = (1.0, 1.0), (0.8, 0.12)
    assert judge_together(SHUTTLE, 6.0, 0.03, *strong, 9, 10).repair == ("drain",)
    assert judge_together(SHUTTLE, 0.25, 0.03, *weak, 48, 10).repair == ("drain", "battery")
    assert judge_together(SHUTTLE, 0.04, 0.03, *weak, 24 * 14, 10).repair == ("battery",)
    assert judge_together(SHUTTLE, 0.2, 0.03, *strong, 9, 10).repair == ()
    alone = judge_together(SHUTTLE, 0.5, 0.03, *strong, 1, 10).drain_alone_hours
    assert judge_together(SHUTTLE, 0.5, 0.03, *strong, alone * 3 / 5.2, 10).repair == ()  # dead after 3 d where the drain takes 5.2 d
    hot = judge_together(SHUTTLE, 18.0, 0.03, *strong, 72, 10)
    assert hot.repair == ("drain",)
    assert "flat long before" in hot.text
    with pytest.raises(ReadingError, match="above zero"):
        judge_together(SHUTTLE, 1, 0.03, *strong, 0, 10)


def test_not_reproduced_says_over_how_long() -> None:
    quiet = read_sleep(night(wakes=1)[1200:], 1.0, 0.05)
    found = not_reproduced(quiet, 0.05, 60, ["Cabin box fuse B1"])
    assert found is not None
    assert found.enough
    assert any("Cabin box" in line for line in found.ruled_out)
    assert "60 days" in found.come_back
    assert not_reproduced(read_sleep(np.full(4000, 0.4), 1.0, 0.05), 0.05, 60, []) is None
