"""Rest voltage, surface charge, two blocks."""

import pytest

from iron_probe.core.bench.battery.rest import RestCheck, judge_parallel, judge_rest, judge_series
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.errors import ReadingError


def rest(volts: float, **more: object) -> RestCheck:
    return RestCheck(rest_v=volts, temp_degc=20, chemistry="flooded", **more)  # type: ignore[arg-type]


def test_surface_charge_is_asked_to_be_bled_off_first() -> None:
    early = judge_rest(rest(12.6, hours_since=1))
    assert early.charge is None
    assert early.judged.verdict is Verdict.OPEN
    assert "Headlamps" in early.judged.next_step
    assert judge_rest(rest(12.6, hours_since=1, bled=True)).charge == pytest.approx(0.96, abs=0.06)
    assert judge_rest(rest(12.6, hours_since=14)).charge is not None
    assert judge_rest(rest(13.1)).charge is None  # above full: it cannot be rested
    assert judge_rest(rest(13.6, charger=True, bled=True)).charge is None


def test_charge_has_an_interval_and_low_charge_condemns_nothing() -> None:
    low = judge_rest(rest(12.05, bled=True))
    assert low.low < (low.charge or 0) < low.high
    assert "condemns nothing" in low.judged.text
    with pytest.raises(ReadingError, match="no rest voltage of a 12 V block"):
        judge_rest(rest(25.2))


@pytest.mark.parametrize(("volts", "charged", "lost"), [(10.5, True, True), (10.5, False, False), (12.2, True, False)])
def test_five_cells_after_a_full_charge_name_the_sixth(volts: float, charged: bool, lost: bool) -> None:
    found = judge_rest(rest(volts, charged=charged, hours_since=3))
    assert found.cell_lost is lost
    assert ("a cell is lost" in found.judged.text) is lost
    if lost:
        assert found.judged.verdict is Verdict.BAD
        assert found.charge is None


def test_two_blocks() -> None:
    assert judge_series(12.6, 12.55).verdict is Verdict.GOOD
    assert "second is behind" in judge_series(12.6, 12.2).text
    assert judge_parallel(12.6, 12.5, joined=True).verdict is Verdict.BAD
    assert judge_parallel(12.6, 12.5, joined=False).verdict is Verdict.GOOD
