"""What a test should show, in words that give the band."""

import pytest

from iron_probe.core.bench.control.steps import ControlStep, Wanted
from iron_probe.core.diagnose.evidence import Reading
from iron_probe.machines import load_sheet
from iron_probe.web import control_words


def step(wanted: Wanted, expected: float | str) -> ControlStep:
    reading = Reading(red="a", black="b", state="rest", value=0.0)
    return ControlStep(title="", reading=reading, wanted=wanted, expected=expected, proves="it passes", otherwise="it does not")


@pytest.mark.parametrize(
    ("wanted", "expected", "said"),
    [
        (Wanted.LIVE, 12.5, "live, over 9.00 V"),
        (Wanted.DEAD, 0.0, "dead, under 3.00 V"),
        (Wanted.LITTLE, 0.01, "under 0.10 V"),
        (Wanted.LITTLE, 0.2, "under 0.40 V"),
        (Wanted.CLOSED, 5.0, "closed, under 5 Ω"),
        (Wanted.OPEN, 1e4, "open, over 10 kΩ"),
        (Wanted.OHMS, 100.0, "70 Ω to 130 Ω"),
        (Wanted.WORD, "cranks", "cranks well"),
    ],
)
def test_good_in_words(wanted: Wanted, expected: float | str, said: str) -> None:
    assert control_words.good(step(wanted, expected), load_sheet("crew-minibus")) == said


def test_what_a_reading_comes_to() -> None:
    asked = step(Wanted.LIVE, 12.5)
    assert control_words.says(asked, True) == "it passes."
    assert control_words.says(asked, False) == "it does not."
    assert "load it with a test lamp" in control_words.says(asked, None)
