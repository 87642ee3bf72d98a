"""Going to sleep: level, time, wakes; ways in; drain and battery against the complaint; the end without a culprit."""

from itertools import islice

import numpy as np
import pytest

from iron_probe.core.bench.drain.explain import judge_together, not_reproduced
from iron_probe.core.bench.drain.feed_tree import feed_tree
from iron_probe.core.bench.drain.limits import LimitSchool, judge_total, limit_for, ways_in
from iron_probe.core.bench.drain.sleep_record import read_sleep
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.circuit.network import network_of
from iron_probe.core.errors import CaptureError, ReadingError
from iron_probe.core.trace.steps import even_record, find_steps
from iron_probe.instruments.clamp_stand_in import totals
from iron_probe.machines import load_sheet

SHUTTLE = load_sheet("lift-shuttle")


def night(wake_every_s: int = 3600, wakes: int = 6) -> np.ndarray:
    """One sample a second: 1.2 A, 0.4 A, asleep at 30 mA, and the gate controller awake for 90 s every hour."""
    rng = np.random.default_rng(3)
    amps = np.full(300 + 900 + wake_every_s * (wakes + 1), 0.030)
    amps[:300], amps[300:1200] = 1.2, 0.40
    for k in range(wakes):
        start = 1200 + (k + 1) * wake_every_s
        amps[start : start + 90] += 0.378
    return amps + 0.001 * rng.standard_normal(len(amps))


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


def test_typed_points_become_a_record_and_bad_ones_are_told() -> None:
    record, step = even_record([0, 60, 120, 600, 1500], [1.8, 0.9, 0.4, 0.4, 0.025])
    assert step == 60
    assert [round(v, 3) for v in record[[0, 1, 2, 9, 24, 25]]] == [1.8, 0.9, 0.4, 0.4, 0.4, 0.025]
    with pytest.raises(CaptureError, match="Times must rise"):
        even_record([0, 5, 5, 9], [1, 1, 1, 1])
    with pytest.raises(CaptureError, match="Four points"):
        even_record([0, 5], [1, 1])
    with pytest.raises(CaptureError, match="no number"):
        find_steps([1.0, float("nan"), 1.0, 1.0], 1.0)


def test_limits_by_machine_and_school() -> None:
    assert limit_for(SHUTTLE).limit_a == 0.05
    assert limit_for(load_sheet("quay-digger"), LimitSchool.OLDER).limit_a == 0.1
    assert limit_for(load_sheet("piste-sled")).limit_a < 0.005
    limit = limit_for(SHUTTLE)
    assert judge_total(0.03, limit, 5, 25).verdict is Verdict.GOOD
    assert judge_total(0.4, limit, 5, 25).verdict is Verdict.OPEN
    assert judge_total(0.4, limit, 40, 25).verdict is Verdict.BAD


def test_ways_in_work_out_the_draw_before_the_meter_is_connected() -> None:
    small, big = (next(w for w in ways_in(SHUTTLE, a, 2) if w.id == "series") for a in (0.5, 6.0))
    assert "under the meter's 10 A fuse" in small.risk
    assert "over the meter's 10 A fuse" in big.risk
    assert "each ground cable in turn" in ways_in(SHUTTLE, 0.5, 2)[0].steps[1]


def test_which_of_drain_and_battery_explains_the_complaint() -> None:
    strong, weak = (1.0, 1.0), (0.8, 0.12)
    assert judge_together(SHUTTLE, 6.0, 0.03, *strong, 9, 10).repair == ("drain",)
    assert judge_together(SHUTTLE, 0.25, 0.03, *weak, 48, 10).repair == ("drain", "battery")
    assert judge_together(SHUTTLE, 0.04, 0.03, *weak, 24 * 14, 10).repair == ("battery",)
    assert judge_together(SHUTTLE, 0.2, 0.03, *strong, 9, 10).repair == ()
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


def test_the_stand_in_clamp_falls_asleep_but_for_one_module() -> None:
    seen = [a for _, a in islice(totals(SHUTTLE, "gate-controller"), 60 * 40)]
    record = read_sleep(seen, 1.0, 0.05)
    assert seen[0] > 1.5
    assert record.sleep_a == pytest.approx(0.41, abs=0.02)
    assert not record.slept
    with pytest.raises(ReadingError, match="module"):
        next(totals(SHUTTLE, "starter"))
