"""Answers as a file."""

import pytest

from iron_probe.core.compose.answers_file import read_answers, write_answers
from iron_probe.core.errors import SheetError


def test_what_is_written_is_read_again() -> None:
    said = {"kind": "mower", "volts": "12", "agree": ["seat", "blades"], "feeds": "F1, Horn, 10 A\nF2, Pump: key\n"}
    text = write_answers(said, "Mower 3")
    assert read_answers(text) == (said, "Mower 3")
    assert "F1, Horn, 10 A\n" in text  # a line a line, to be edited by hand


def test_what_is_no_file_of_answers_is_told() -> None:
    with pytest.raises(SheetError, match="begins with “format: iron-probe-answers/1”"):
        read_answers("kind: mower\n")
    with pytest.raises(SheetError, match="line 2, agree: an answer is a word"):
        read_answers("format: iron-probe-answers/1\nagree: {seat: yes}\n")
    with pytest.raises(SheetError, match="alias"):
        read_answers("format: iron-probe-answers/1\na: &x [b]\nb: *x\n")
