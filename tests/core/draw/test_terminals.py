"""A part drawn by its terminals: each once, where its first test puts a lead."""

import pytest

from iron_probe.core.draw.terminals import terminals_of
from iron_probe.machines import load_sheet, sheet_ids
from tests.core.bench.control.test_stations import stations


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_every_lead_of_every_test_has_its_terminal(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    for station in stations(sheet_id):
        drawn = {t.point: t for t in terminals_of(station, sheet)}
        assert len(drawn) == len(terminals_of(station, sheet))
        for step in station.steps:
            assert {step.reading.red, step.reading.black} <= set(drawn), (station.element.id, step.title)
        for terminal in drawn.values():
            if terminal.step is not None:
                reading = station.steps[terminal.step].reading
                assert terminal.point in (reading.red, reading.black)
        spots = [(t.x, t.y) for t in drawn.values()]
        assert len(spots) == len(set(spots))
