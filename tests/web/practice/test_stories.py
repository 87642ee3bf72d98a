"""The customer's story fits what is hidden, is the same for the same case, and never names the part."""

import pytest

from iron_probe.bay.case import FUSE, Level, PracticeCase
from iron_probe.machines import load_sheet
from iron_probe.web.practice.stories import LEVEL, SAYS, story


def case(symptom: str, seed: int = 3, level: Level = Level.ONE) -> PracticeCase:
    return PracticeCase(level, "green-mower", 3, seed, symptom, ())


def test_every_level_and_every_symptom_has_its_words() -> None:
    assert set(LEVEL) == set(Level)
    assert {"nothing", "click", "chatter", "no_turn", "slow", "cranks", "no_charge", "drain", ""} == set(SAYS)


@pytest.mark.parametrize("symptom", list(SAYS))
def test_a_story_says_the_symptom_and_is_the_same_again(symptom: str) -> None:
    said = story(case(symptom), None)
    assert said == story(case(symptom), None) and any(said.startswith(s) for s in SAYS[symptom])
    assert len({story(case(symptom, seed), None) for seed in range(30)}) > 5


def test_of_a_fuse_it_says_which_and_when() -> None:
    said = story(case(FUSE, level=Level.FUSE), ("charge-fuse", "run"))
    assert "is blown again" in said and load_sheet("green-mower").states["run"].title.lower() in said
