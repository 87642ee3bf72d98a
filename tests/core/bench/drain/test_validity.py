"""Which readings of a sweep say something."""

import pytest

from iron_probe.core.bench.drain.amps_read import Interval
from iron_probe.core.bench.drain.currents import TOTAL, Taken, Way
from iron_probe.core.bench.drain.validity import Moment, at_level, check_sweep, fault_level


def read(number: int, where: str, milliamperes: float) -> Taken:
    a = milliamperes / 1000
    return Taken(number=number, where=where, way=Way.DROP, amps=Interval(low=max(a - 0.01, 0), best=a, high=a + 0.013))


TOTALS = [Moment(at_s=0, total_a=0.41), Moment(at_s=300, total_a=0.40), Moment(at_s=600, total_a=0.022)]


def test_zeros_read_while_nothing_flowed_are_no_information() -> None:
    sweep = [(read(1, "c1", 0), 100.0), (read(2, "c2", 0), 400.0), (read(3, "c3", 390), 450.0), (read(4, "c4", 0), 700.0)]
    checked = check_sweep(sweep, TOTALS, 0.05)
    assert [c.valid for c in checked] == [True, False, True, False]
    assert "after it was 22 mA, normal" in checked[1].why
    assert "before it was 22 mA" in checked[3].why


def test_totals_never_over_the_limit_make_every_zero_empty() -> None:
    low = [Moment(at_s=0, total_a=0.02)]
    assert "never above 50 mA" in check_sweep([(read(1, "c1", 0), 10.0)], low, 0.05)[0].why
    stale = check_sweep([(read(1, "c1", 0), 4000.0)], TOTALS[:1], 0.05)[0]
    assert "no total was read within" in stale.why
    assert fault_level(TOTALS, 0.05) == pytest.approx(0.40)
    assert fault_level(low, 0.05) is None
    halved = [*TOTALS[:2], Moment(at_s=500, total_a=0.09), Moment(at_s=560, total_a=0.09)]
    assert fault_level(halved, 0.05) == pytest.approx(0.09)  # nobody said when it was locked: it may have been falling asleep
    assert fault_level(halved, 0.05, settled_s=0) == pytest.approx(0.41)  # it should sleep by now: the drain is half gone


def test_another_level_is_another_state() -> None:
    totals = [Moment(at_s=0, total_a=0.41), Moment(at_s=60, total_a=0.40), Moment(at_s=120, total_a=1.9), Moment(at_s=240, total_a=0.41)]
    checked = check_sweep([(read(1, "c1", 0), 90.0), (read(2, "c2", 0), 250.0)], totals, 0.05)
    assert [c.valid for c in checked] == [False, True]
    assert "another state" in checked[0].why
    total = Taken(number=9, where=TOTAL, way=Way.CLAMP, amps=Interval(low=0.4, best=0.41, high=0.42))
    used = at_level([*checked, *check_sweep([(total, 0.0)], totals, 0.05)], totals, 0.05)
    assert [t.where for t in used] == [TOTAL, "c2"]
