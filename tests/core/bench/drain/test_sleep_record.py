"""A night on the clamp: sleep level and wakes."""

from itertools import islice

import numpy as np
import pytest

from iron_probe.core.bench.drain.feed_tree import feed_tree
from iron_probe.core.bench.drain.sleep_record import read_sleep
from iron_probe.core.circuit.network import network_of
from iron_probe.core.errors import ReadingError
from iron_probe.instruments.clamp_stand_in import totals
from tests.core.bench.drain.nights import SHUTTLE, night


def test_a_night_is_read_with_its_wakes() -> None:
    found = read_sleep(night(), 1.0, 0.05, feed_tree(network_of(SHUTTLE)))
    assert found.sleep_a == pytest.approx(0.030, abs=0.001)
    assert found.asleep_after_s == pytest.approx(1200, abs=2)
    assert len(found.wakes) == 6
    assert found.period_s == pytest.approx(3600, abs=5)
    assert found.wakes[0].cost_ah == pytest.approx(0.378 * 90 / 3600, rel=0.03)
    assert found.ah_per_day == pytest.approx(24 * found.mean_a)
    assert "gate-controller" in next(m for m in found.matches if abs(m.size_a - 0.378) < 0.01).elements


def test_a_machine_that_never_sleeps_and_wakes_without_a_clock() -> None:
    awake = read_sleep(0.41 + 0.001 * np.random.default_rng(1).standard_normal(4000), 1.0, 0.05)
    assert not awake.slept
    assert awake.sleep_a == pytest.approx(0.41, abs=0.001)
    amps = np.full(20_000, 0.02)
    for start in (2000, 3000, 9000, 17_500):
        amps[start : start + 60] = 0.5
    assert read_sleep(amps, 1.0, 0.05).period_s is None


def test_the_stand_in_clamp_falls_asleep_but_for_one_module() -> None:
    seen = [a for _, a in islice(totals(SHUTTLE, "gate-controller"), 60 * 40)]
    record = read_sleep(seen, 1.0, 0.05)
    assert seen[0] > 1.5
    assert record.sleep_a == pytest.approx(0.41, abs=0.02)
    assert not record.slept
    with pytest.raises(ReadingError, match="module"):
        next(totals(SHUTTLE, "starter"))
