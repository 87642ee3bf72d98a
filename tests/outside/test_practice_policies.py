"""Marks of the practice bay against three ways of working, figures by ngspice: who knows has all, who swaps parts fails, the guide alone has ninety.

Mark: common practice (what good work is). The 60 cases are run with IRON_PROBE_LONG=1 and by `./run bench practice`; two of them always.
"""

import os
from statistics import mean

import pytest

from bench.practice_cases import CASES, Marked, run
from iron_probe.bay.marks import FULL, PASSES

NUMBERS = list(range(CASES)) if os.environ.get("IRON_PROBE_LONG") else [0, 2]
LEAST_MEAN = 90


@pytest.fixture(scope="module")
def marked() -> dict[str, list[Marked]]:
    by: dict[str, list[Marked]] = {}
    for one in run(NUMBERS):
        by.setdefault(one.by, []).append(one)
    return by


def test_who_knows_has_full_marks(marked: dict[str, list[Marked]]) -> None:
    assert [(m.sheet, m.level, m.number, m.marks) for m in marked["who knows"] if m.marks < FULL] == []


def test_who_swaps_parts_fails(marked: dict[str, list[Marked]]) -> None:
    assert [(m.sheet, m.level, m.number, m.marks) for m in marked["who swaps parts"] if m.marks >= PASSES] == []


def test_the_guide_alone_has_ninety_on_the_whole(marked: dict[str, list[Marked]]) -> None:
    assert mean(m.marks for m in marked["the guide alone"]) >= LEAST_MEAN
