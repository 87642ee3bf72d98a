"""Mistakes of a sheet that reads well but cannot be a machine."""

import pytest

from iron_probe.core.circuit.check_sheet import mistakes_in
from iron_probe.core.circuit.sheet import Sheet


def told(sheet: Sheet, **changed: object) -> str:
    altered = sheet.model_copy(update=changed)
    return " / ".join(str(m) for m in mistakes_in(altered, lambda *_: 1))


def test_a_shipped_sheet_has_none(minibus: Sheet) -> None:
    assert not mistakes_in(minibus, lambda *_: 1)


def test_a_dangling_reference_and_a_missing_battery_are_told(minibus: Sheet) -> None:
    starter = next(e for e in minibus.elements if e.type == "starter")
    twice = [*minibus.elements, starter]
    assert starter.id in told(minibus, elements=twice)
    without = [e for e in minibus.elements if e.type != "battery"]
    assert "dangling wire" in told(minibus, elements=without)


@pytest.mark.parametrize("field", ["plus", "minus"])
def test_a_pole_that_is_no_point_is_told(minibus: Sheet, field: str) -> None:
    assert "nowhere" in told(minibus, **{field: "nowhere"})
