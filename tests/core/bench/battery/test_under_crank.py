"""Volts at the posts while cranking, shared out."""

import pytest

from iron_probe.core.bench.battery.under_crank import CrankVolts, judge_cranking
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.circuit.battery import FULL_RESISTANCE_V, LAG_V
from iron_probe.core.errors import ReadingError

HEALTHY_OHM = FULL_RESISTANCE_V / 600


def crank(**said: float | None) -> CrankVolts:
    base = {"rest_v": 12.6, "posts_v": 11.0, "clamps_v": None, "amps": 200.0, "cca_a": 600.0, "temp_degc": 25.0, "expected_a": 200.0}
    return CrankVolts(chemistry="flooded", **{**base, **said})  # type: ignore[arg-type]


def test_a_sound_crank_loses_nothing_to_anybody() -> None:
    found = judge_cranking(crank(posts_v=12.6 - LAG_V - 200 * HEALTHY_OHM))
    assert found.judged.verdict is Verdict.GOOD
    assert found.resistance_v == pytest.approx(0.0, abs=0.02) and found.draw_v == 0.0


def test_what_is_missing_goes_to_whoever_takes_it() -> None:
    weak = judge_cranking(crank(posts_v=9.0))
    assert weak.resistance_v > 2 and weak.resistance_ohm == pytest.approx(3.6 / 200)
    thirsty = judge_cranking(crank(posts_v=12.6 - LAG_V - 500 * HEALTHY_OHM, amps=500.0))
    assert thirsty.draw_v == pytest.approx(300 * HEALTHY_OHM)
    joint = judge_cranking(crank(clamps_v=10.2))
    assert joint.joint_v == pytest.approx(0.8) and "Post to clamp" in joint.judged.text


def test_figures_of_two_cranks_are_refused() -> None:
    with pytest.raises(ReadingError, match="no current flowed"):
        judge_cranking(crank(posts_v=12.7))
    with pytest.raises(ReadingError, match="swapped readings"):
        judge_cranking(crank(clamps_v=11.5))
