"""Live or dead in wide bands, a drop, ohms, a word."""

import pytest

from iron_probe.core.bench.control.steps import ControlStep, Wanted, level_wanted
from iron_probe.core.diagnose.evidence import Instrument, Reading


def step(wanted: Wanted, expected: float | str, instrument: Instrument = Instrument.VOLTMETER) -> ControlStep:
    said = {"word": "nothing"} if wanted is Wanted.WORD else {"value": 0.0}
    reading = Reading.model_validate({"instrument": instrument, "red": "a", "black": "b", "state": "rest", **said})
    return ControlStep(title="", reading=reading, wanted=wanted, expected=expected, proves="", otherwise="")


@pytest.mark.parametrize(
    ("wanted", "expected", "value", "met"),
    [
        (Wanted.DEAD, 0.0, 0.05, True),
        (Wanted.DEAD, 0.0, 0.16, True),  # the same as 0.05
        (Wanted.DEAD, 0.0, 12.4, False),
        (Wanted.LIVE, 12.5, 11.2, True),
        (Wanted.LIVE, 12.5, 0.16, False),
        (Wanted.LIVE, 12.5, 6.1, None),
        (Wanted.LITTLE, 0.02, 0.08, True),
        (Wanted.LITTLE, 0.02, 0.3, False),
        (Wanted.LITTLE, 0.1, 0.18, True),  # a sound one loses 0.1 V there
    ],
)
def test_a_voltage_is_taken_as_a_technician_takes_it(wanted: Wanted, expected: float, value: float, met: bool | None) -> None:
    read = Reading(red="a", black="b", state="rest", value=value)
    assert step(wanted, expected).met(read, 12) is met


@pytest.mark.parametrize(
    ("wanted", "value", "met"),
    [
        (Wanted.CLOSED, 0.4, True),
        (Wanted.CLOSED, 300.0, False),
        (Wanted.OPEN, 2e6, True),
        (Wanted.OPEN, 40.0, False),
        (Wanted.OHMS, 90.0, True),
        (Wanted.OHMS, 9.0, False),
    ],
)
def test_ohms(wanted: Wanted, value: float, met: bool) -> None:
    asked = step(wanted, 85.0, Instrument.OHMMETER)
    assert asked.met(asked.reading.model_copy(update={"value": value}), 12) is met


@pytest.mark.parametrize(("word", "met"), [("bright", True), ("off", False), ("dim", None)])
def test_a_test_lamp_stands_for_the_meter(word: str, met: bool | None) -> None:
    lamp = Reading(instrument=Instrument.LAMP_SMALL, red="a", black="b", state="rest", word=word)
    assert step(Wanted.LIVE, 12.5).met(lamp, 12) is met
    assert step(Wanted.DEAD, 0.0).met(lamp, 12) is (None if met is None else not met)
    assert step(Wanted.LITTLE, 0.0).met(lamp, 12) is None


def test_a_word_is_met_by_itself() -> None:
    asked = step(Wanted.WORD, "cranks", Instrument.JUMPER)
    assert asked.met(asked.reading.model_copy(update={"word": "cranks"}), 12) is True
    assert asked.met(asked.reading, 12) is False


def test_levels_by_what_a_sound_machine_shows() -> None:
    assert [level_wanted(v, 12) for v in (12.0, -11.0, 0.3, 6.0)] == [Wanted.LIVE, Wanted.LIVE, Wanted.DEAD, None]
    assert level_wanted(12.0, 24) is None
