"""What a look at a part leans toward."""

import numpy as np
import pytest

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import LOOK_WORDS, Instrument, Reading, check_reading
from iron_probe.core.diagnose.looks import LOOKED, FaultKind, fault_kinds
from iron_probe.core.diagnose.next_test import next_tests
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.diagnose.told_test import predicted_by
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet

MOWER = Ensemble(load_sheet("green-mower"))
SLOW = Reading(instrument=Instrument.EYES, state="crank", word="slow")


def looks(element: str, word: str) -> Reading:
    return Reading(instrument=Instrument.LOOKS, branch=element, state="crank", word=word)


def test_chances_of_the_words_add_up() -> None:
    assert LOOKED.shape == (len(FaultKind), len(LOOK_WORDS))
    np.testing.assert_allclose(LOOKED.sum(axis=1), 1)


def test_kinds_of_fault_on_a_part_and_none_on_the_others() -> None:
    kinds = fault_kinds(MOWER.hypotheses, "plus-cable")
    named = {h.modes[0].name: FaultKind(k) for h, k in zip(MOWER.hypotheses, kinds, strict=True) if h.elements[:1] == ("plus-cable",)}
    assert named["open"] is FaultKind.WAY_LOST
    assert all(k == FaultKind.NONE for h, k in zip(MOWER.hypotheses, kinds, strict=True) if "plus-cable" not in h.elements)


def test_a_green_joint_leads_and_is_not_found_and_a_good_one_falls() -> None:
    case = Case(MOWER)
    heard = case.posterior([SLOW])
    suspect = next(s.element for s in heard.suspects if any(m == "high_resistance" for m, _ in s.modes))
    green, good = (case.posterior([SLOW, looks(suspect, word)]) for word in ("green", "good"))
    assert good.share(suspect) < heard.share(suspect) < green.share(suspect)
    assert green.found is None
    assert next_tests(case, TestBook(MOWER), green, [SLOW, looks(suspect, "green")])
    assert dict(predicted_by(MOWER, green, looks(suspect, "green"), [suspect]))[suspect] == FaultKind.WAY_LOST


def test_a_look_is_at_a_part_of_the_sheet_and_has_a_word() -> None:
    check_reading(looks("plus-cable", "burnt"), MOWER.network)
    with pytest.raises(ReadingError):
        check_reading(looks("nothing-here", "burnt"), MOWER.network)
    with pytest.raises(ValueError, match="one of good, green"):
        looks("plus-cable", "purple")
