"""Battery limits and laws against figures that are not ours.

BCI load test table, Peukert's law, SAE J537: from memory (CHECKS). 25 A for 20 min and the rest: common practice, no source.
"""

import numpy as np
import pytest
from scipy.integrate import quad

from iron_probe.core.bench.battery.capacity import CapacityRun, capacity_of, hours_at, judge_capacity
from iron_probe.core.bench.battery.load_test import least_volts


@pytest.mark.parametrize(("degc", "volts"), [(21, 9.6), (16, 9.5), (10, 9.4), (4, 9.3), (-1, 9.1), (-7, 8.9), (-12, 8.7), (-18, 8.5)])
def test_load_test_table(degc: float, volts: float) -> None:
    assert least_volts(degc) == pytest.approx(volts)


def test_peukert_in_closed_form() -> None:
    for amps, k in ((4.0, 1.2), (25.0, 1.1), (60.0, 1.25)):
        hours = 20 * (80 / (amps * 20)) ** k
        assert hours_at(amps, 80, k) == pytest.approx(hours)
        assert capacity_of(amps, hours, k) == pytest.approx(80)
    assert hours_at(4, 80, 1.17) == pytest.approx(20)


def test_25_a_for_20_minutes_from_a_good_80_ah_battery() -> None:
    """common practice, no source: a good one holds far longer, a tenth of one not five minutes."""
    assert 60 * hours_at(25, 80, 1.17) > 60
    assert 60 * hours_at(25, 8, 1.25) < 10


def test_amp_hours_delivered_against_quadrature() -> None:
    """source: scipy.integrate.quad of the same falling current."""

    def amps(minute: float) -> float:
        return 26 * np.exp(-minute / 80)

    minutes = np.linspace(0, 40, 400)
    run = CapacityRun(minutes=minutes.tolist(), volts=(12.2 - 0.05 * minutes).tolist(), amps=[amps(m) for m in minutes], rated_ah=80)
    found = judge_capacity(run)
    stop = (12.2 - 10.5) / 0.05
    assert found.delivered_ah == pytest.approx(quad(amps, 0, stop)[0] / 60, rel=1e-3)
