"""A cell of the charge board is off outside the band of sound machines."""

from datetime import UTC, datetime
from uuid import uuid4

import pytest

from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.job.fold import LoggedReading
from iron_probe.web.charge.page import PlaceCell


def cell(value: float | None) -> PlaceCell:
    taken = None
    if value is not None:
        reading = Reading(red="a", black="b", state="fast", value=value)
        taken = LoggedReading(id=uuid4(), number=1, epoch=0, at=datetime(2026, 1, 1, tzinfo=UTC), reading=reading, typed="")
    return PlaceCell(state="fast", good=14.3, low=14.1, high=14.5, taken=taken)


@pytest.mark.parametrize(("value", "off"), [(None, False), (14.3, False), (14.1, False), (12.4, True), (16.2, True)])
def test_only_what_no_sound_machine_reads_is_marked(value: float | None, off: bool) -> None:
    assert cell(value).off is off
