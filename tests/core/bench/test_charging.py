"""Charging: designs as they solve, output and drops judged, what may not be subtracted, energy, stator and diodes."""

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from iron_probe.core.bench.charging import (
    TimedVolts,
    energy_balance,
    has_charging,
    judge_charge_drop,
    judge_output,
    judge_ripple,
    looked_at_first,
    maker_of,
    peak_to_peak_v,
    places_of,
    subtract,
)
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet


@pytest.mark.parametrize(
    ("volts", "amps", "verdict", "word"),
    [
        (14.3, 12, Verdict.GOOD, "charges"),
        (12.5, None, Verdict.BAD, "not charging"),
        (12.8, 45, Verdict.OPEN, "flat battery"),
        (12.2, 31, Verdict.BAD, "31 A leave"),  # a clamp without a sign: no battery is filled below its own rest volts
        (15.6, None, Verdict.BAD, "sense"),
        (13.3, None, Verdict.WEAK, "default"),
    ],
)
def test_output(volts: float, amps: float | None, verdict: Verdict, word: str) -> None:
    judged = judge_output(volts, amps, 12.4, 20, 12, commanded=True)
    assert judged.verdict is verdict
    assert word in judged.text


def test_amps_without_the_volts_at_rest_ask_for_them() -> None:
    judged = judge_output(12.2, 31, None, 20, 12)
    assert judged.verdict is Verdict.OPEN and "at rest" in judged.next_step


def test_drops_are_scaled_to_full_output() -> None:
    assert judge_charge_drop("plus", 0.15, 30, 90, 12).verdict is Verdict.BAD
    assert judge_charge_drop("plus", 0.05, 30, 90, 12).verdict is Verdict.GOOD
    assert judge_charge_drop("case", 0.01, 5, 90, 12).verdict is Verdict.OPEN
    assert judge_charge_drop("case", 0.01, None, 90, 12).verdict is Verdict.OPEN
    assert judge_ripple(0.9, 12).verdict is Verdict.BAD


def test_a_moving_source_is_not_subtracted() -> None:
    at = datetime(2026, 3, 1, 10, tzinfo=UTC)
    with pytest.raises(ReadingError, match=r"moved by 0\.50 V.*14\.60 V at 10:00:00"):
        subtract(TimedVolts(14.6, at, 14.3), TimedVolts(13.8, at + timedelta(seconds=40), 13.8))
    with pytest.raises(ReadingError, match="7 min"):
        subtract(TimedVolts(14.6, at, None), TimedVolts(14.3, at + timedelta(minutes=7), None))
    assert subtract(TimedVolts(14.6, at, None), TimedVolts(14.3, at + timedelta(seconds=30), None)) == pytest.approx(0.3)


def test_energy_balance_adds_up() -> None:
    for b in energy_balance(load_sheet("estate-car"), Conditions(), 21):
        assert b.can_give_a > b.loads_a + b.battery_a - 0.5
        assert b.hours is not None
        assert b.hours == pytest.approx(21 / 0.85 / b.battery_a)
    tender = load_sheet("fire-tender")
    small = [e.model_copy(update={"rated_a": 8.0}) if e.type == "alternator" else e for e in tender.elements]
    starved = energy_balance(tender.changed(id="small", elements=small), Conditions(), 30)[0]
    assert starved.battery_a < 0
    assert starved.hours is None


def test_the_places_of_a_design_are_its_own() -> None:
    keys = {
        i: {p.key for p in places_of(load_sheet(i), Conditions(), ("run", "fast"))}
        for i in ("estate-car", "fire-tender", "parcel-van", "green-mower")
    }
    assert "l" in keys["estate-car"]
    assert {"f", "reg"} <= keys["fire-tender"]
    assert "bus" in keys["parcel-van"]
    assert keys["green-mower"] == {"posts", "output", "plus", "case"}


def test_a_machine_without_a_charging_system_lives_on_its_battery() -> None:
    sheet = load_sheet("training-kart")
    assert not has_charging(sheet)
    idle = energy_balance(sheet, Conditions(), 0.0)[0]
    assert idle.can_give_a == 0
    assert idle.lasts_hours == pytest.approx(0.5 * 9 * 0.95 / -idle.battery_a)


def test_a_meters_rms_is_brought_to_peak_to_peak() -> None:
    wave = np.interp(np.linspace(0, 1, 1001), [0, 0.5, 1], [0, 0.4, 0])
    assert peak_to_peak_v(float(np.std(wave))) == pytest.approx(0.4, rel=0.01)
    assert "nearer to one diode shorted" in judge_ripple(0.9, 12, 0.5).text
    assert "nearer to one diode open" in judge_ripple(0.9, 12, 0.75).text


def test_what_is_looked_at_first_fits_the_design() -> None:
    stator = looked_at_first(maker_of(load_sheet("green-mower")))
    assert "stator" in stator and "lamp" not in stator and "sense" not in stator
    assert looked_at_first(maker_of(load_sheet("pool-car"))).endswith("the small wires: lamp, ignition, sense.")
    judged = judge_output(12.2, None, 12.4, 20, 12, first=stator)
    assert judged.next_step == stator
