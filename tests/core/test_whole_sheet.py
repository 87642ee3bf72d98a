"""A sheet is tried whole before it is kept: what check-sheet takes, diagnose takes."""

import pytest

from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.errors import SheetError
from iron_probe.core.whole_sheet import read_whole_sheet
from tests.odd_sheets import odd_sheets

ODD = odd_sheets()


@pytest.mark.parametrize("name", ODD)
def test_an_odd_but_sound_sheet_is_taken_and_can_be_diagnosed(name: str) -> None:
    sheet = read_whole_sheet(ODD[name])
    ensemble = Ensemble(sheet)
    assert Case(ensemble).posterior([]).suspects


def test_a_machine_whose_battery_feeds_nothing_is_refused_with_a_word() -> None:
    text = """
id: nothing
title: Nothing at all
kind: test
system_v: 12
plus: p
minus: m
points: {p: {title: plus}, m: {title: minus}}
elements: [{id: b, type: battery, title: Battery, plus: p, minus: m, capacity_ah: 60, cca_a: 500}]
states: {rest: {title: Rest}}
"""
    with pytest.raises(SheetError) as refused:
        read_whole_sheet(text)
    assert str(refused.value)
