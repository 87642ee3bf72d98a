"""Answers settled: what goes together, what is usual, what was said."""

from iron_probe.blocks import pattern_book
from iron_probe.core.compose.settle import NOT_KNOWN, holds, open_choices, settle

BOOK = pattern_book()


def test_conditions_hold_by_the_answers_before() -> None:
    answers = {"volts": "12", "agree": ("seat", "blades")}
    assert holds({"volts": ["12", "6"]}, {}, answers)
    assert holds({"agree": ["blades"]}, {"volts": ["24"]}, answers)
    assert not holds({"engine": ["single"]}, {}, answers)
    assert not holds({}, {"agree": ["seat"]}, answers)


def test_only_what_goes_together_is_open() -> None:
    assert open_choices(BOOK.questions["batteries"], {"volts": "24"}) == ["series"]
    assert "converter" not in open_choices(BOOK.questions["charging"], {"volts": "12", "engine": "four"})


def test_not_known_leaves_the_usual_and_says_nothing() -> None:
    settled = settle(BOOK, {"kind": "mower", "start": NOT_KNOWN, "agree": [NOT_KNOWN], "volts": "12"})
    assert settled.answers["start"] == "key-frame" and settled.answers["agree"] == ("brake", "seat", "blades")
    assert settled.said == {"volts"}


def test_none_of_several_is_an_answer_too() -> None:
    settled = settle(BOOK, {"kind": "mower", "agree": []})
    assert settled.answers["agree"] == () and "agree" in settled.said


def test_what_no_longer_goes_with_the_rest_falls_back() -> None:
    settled = settle(BOOK, {"kind": "mower", "volts": "24", "batteries": "one", "nonsense": "x", "place": ["near", "far"]})
    assert settled.answers["batteries"] == "series"
    assert {m.where for m in settled.mistakes} == {"batteries", "nonsense", "place"}
