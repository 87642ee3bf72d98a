"""What is asked about before it is logged, and what is not."""

import pytest

from iron_probe.core.bench.plausible import Doubt, doubt_of, doubt_of_sleep
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.machines import load_sheet

SHEET = load_sheet("crew-minibus")


def volts(value: float) -> Reading:
    return Reading(red="bat.plus", black="bat.minus", state="rest", value=value)


@pytest.mark.parametrize(
    ("value", "good", "doubt"),
    [
        (12.4, 12.6, None),
        (0.0, 12.6, None),  # a dead battery is no slip
        (16.8, 14.2, None),  # a regulator that is full on
        (50.0, 12.6, Doubt.OVER_SUPPLY),
        (-24.1, None, Doubt.OVER_SUPPLY),
        (-12.4, 12.6, Doubt.LEADS_SWAPPED),
        (12.4, -12.6, Doubt.LEADS_SWAPPED),
        (-0.04, 0.05, None),  # a small drop the other way says something
        (-12.4, None, None),  # nobody knows what is good there
    ],
)
def test_volts_no_source_gives_and_leads_the_other_way_round_are_asked_about(value: float, good: float | None, doubt: Doubt | None) -> None:
    assert doubt_of(volts(value), SHEET, good) is doubt


def test_more_than_the_battery_gives_is_asked_about() -> None:
    def clamp(value: float) -> Reading:
        return Reading(instrument=Instrument.CLAMP, branch="battery", state="crank", value=value)

    cca_a = sum(b.cca_a for b in SHEET.batteries)
    assert doubt_of(clamp(-1.5 * cca_a), SHEET) is None
    assert doubt_of(clamp(2.5 * cca_a), SHEET) is Doubt.OVER_STARTER


@pytest.mark.parametrize(
    ("amps", "doubt"), [(0.0, None), (0.035, None), (6.2, None), (420.0, Doubt.OVER_SLEEP), (0.00042, Doubt.UNDER_SLEEP)]
)
def test_amperes_typed_for_milliamperes_are_asked_about(amps: float, doubt: Doubt | None) -> None:
    assert doubt_of_sleep(amps) is doubt
