"""What a meter is set to for a reading, and the last digit it shows."""

import pytest

from iron_probe.core.diagnose.evidence import UNIT, Instrument
from iron_probe.core.meters.measured import LAST_DIGIT, SHOWN_IN, Measured, last_digit, needed


def test_what_a_reading_needs_is_in_its_unit() -> None:
    for instrument in Instrument:
        wanted = needed(instrument)
        assert wanted is None or SHOWN_IN[wanted] == UNIT[instrument]
    assert needed(Instrument.VOLTMETER) is Measured.DC_VOLTS and needed(Instrument.AC_VOLTS) is Measured.AC_VOLTS
    assert needed(Instrument.EYES) is needed(Instrument.CAPACITY) is None


@pytest.mark.parametrize(("value", "step"), [(0.0123, 1e-4), (-0.5, 1e-4), (5.99, 1e-3), (12.6, 1e-2), (500.0, 1e-2)])
def test_a_meter_of_6000_counts(value: float, step: float) -> None:
    assert last_digit(Measured.DC_VOLTS, value) == step


def test_ranges_grow() -> None:
    for ranges in LAST_DIGIT.values():
        assert list(ranges) == sorted(ranges)
