"""Figures of the shipped machines beside what a technician expects of them.

common practice, no source: cranking over 10 V at the posts, sides within half a volt, 13.5 to 14.7 V charging, under 50 mA asleep.
"""

import pytest

from iron_probe.machines import load_sheet, sheet_ids
from tools.machines_page import EXPECTED, figures


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_sound_machines_read_as_expected(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    found = figures(sheet)
    assert any(value is not None for value in found.values())
    for name, value in found.items():
        least, most = EXPECTED[name].band(sheet)
        assert value is None or least <= value <= most, name
