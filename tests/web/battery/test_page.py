"""How a sheet's batteries are wired, and which card is shown."""

import pytest

from iron_probe.core.errors import SolveError
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.web.battery.page import find_battery, pairing


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_two_batteries_add_their_volts_or_stand_side_by_side(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    found = sheet.batteries
    wired = pairing(sheet)
    assert (wired == "") == (len(found) < 2)
    if wired == "series":
        assert sum(b.volts for b in found) == sheet.system_v
    elif wired:
        assert all(b.volts == sheet.system_v for b in found)


def test_the_first_is_shown_unless_another_is_named_and_a_strange_one_is_told() -> None:
    sheet = load_sheet("pool-car")
    assert find_battery(sheet, "") is sheet.batteries[0]
    with pytest.raises(SolveError, match="no battery called"):
        find_battery(sheet, "nowhere")
