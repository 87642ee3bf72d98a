"""Screens say on which machines they apply."""

from iron_probe.core.whole_sheet import read_whole_sheet
from iron_probe.machines import load_sheet
from iron_probe.web.rooms import SCREENS
from tests.odd_sheets import odd_sheets


def test_names_and_paths_are_each_used_once() -> None:
    assert len({s.name for s in SCREENS}) == len({s.path for s in SCREENS}) == len(SCREENS)


def test_what_a_circuit_cannot_support_is_refused_with_a_reason() -> None:
    whole = load_sheet("pool-car")
    assert not [s.name for s in SCREENS if s.refuses(whole)]
    refused = {name: [s.refuses(read_whole_sheet(text)) for s in SCREENS] for name, text in odd_sheets().items()}
    assert any(any(reasons) for reasons in refused.values())
    assert all(len(reason) > 10 for reasons in refused.values() for reason in reasons if reason)
