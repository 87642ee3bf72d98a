"""A crank caught in a stream."""

import pytest

from iron_probe.core.meters.measured import Measured
from iron_probe.core.meters.surge import Surge


def fed(measured: Measured, values: list[float], *, stood: float | None) -> Surge:
    surge = Surge(measured, stood=stood)
    for k, value in enumerate(values):
        surge.take(k / 10, value, None)
    return surge


def test_a_crank_gives_its_least_volts_and_its_mean_without_the_inrush() -> None:
    surge = fed(Measured.DC_VOLTS, [12.6, 7.9, 9.0, 9.9, 10.0, 10.1, 10.0, 10.2, 10.1, 12.5], stood=12.6)
    assert surge.far == 7.9 and surge.mean == pytest.approx(10.1) and not surge.runs and surge.lasted_s == pytest.approx(0.8)


def test_amps_rise() -> None:
    surge = fed(Measured.AMPS, [0.1, 480.0, 300.0, 160.0, 150.0, 152.0, 148.0, 150.0], stood=0.0)
    assert surge.far == 480.0 and surge.mean == pytest.approx(150.0) and surge.runs


@pytest.mark.parametrize(("measured", "values", "stood"), [
    (Measured.DC_VOLTS, [12.6, 12.3, 12.2], 12.6),  # lamps on
    (Measured.AMPS, [0.0, 9.0, 12.0], 0.0),
    (Measured.DC_VOLTS, [12.6, 7.0, 7.0], None),  # never seen at rest
    (Measured.OHMS, [1.0, 900.0], 1.0),
])  # fmt: skip
def test_what_is_no_crank_is_not_caught(measured: Measured, values: list[float], stood: float | None) -> None:
    assert fed(measured, values, stood=stood).far is None


def test_a_second_crank_is_its_own() -> None:
    first = [9.0] * 8 + [12.6]
    surge = fed(Measured.DC_VOLTS, first + [8.0] * 8, stood=12.6)
    assert surge.far == 8.0 and surge.mean == pytest.approx(8.0)


def test_how_long_ago_it_ended_is_known() -> None:
    surge = fed(Measured.DC_VOLTS, [9.0] * 8 + [12.6] * 31, stood=12.6)
    assert not surge.runs and surge.lasted_s == pytest.approx(0.8) and surge.ago_s == pytest.approx(3.0)
    assert fed(Measured.DC_VOLTS, [9.0] * 8, stood=12.6).ago_s == 0.0


def test_where_it_stands_is_learnt_from_what_is_held() -> None:
    surge = Surge(Measured.DC_VOLTS)
    surge.take(0.0, 12.6, 12.6)
    surge.take(0.1, 9.0, None)
    assert surge.runs and surge.stood == 12.6
