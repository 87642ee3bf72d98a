"""A row is drawn once for all it says, and anew when any of it changes."""

from dataclasses import replace
from datetime import UTC, datetime
from uuid import uuid4

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.job.fold import LoggedReading
from iron_probe.web.bench.evidence_rows import evidence_row


def test_a_row_says_what_its_reading_has_become(minibus: Sheet) -> None:
    reading = Reading(red=minibus.plus, black=minibus.minus, state="crank", value=9.8, crank=3)
    taken = LoggedReading(id=uuid4(), number=7, epoch=0, at=datetime(2026, 1, 5, tzinfo=UTC), reading=reading, typed="9.8")

    def row(r: LoggedReading, *, past: bool = False, version: int = 1) -> str:
        return evidence_row(r, None, minibus, past=past, version=version, source="", job=102)

    assert row(taken) is row(replace(taken))  # the same words, the same row
    assert "cranking 3" in row(taken) and "9.8" in row(taken) and "Withdraw reading 7" in row(taken)
    assert "Withdraw" not in row(replace(taken, withdrawn=True)) and "withdrawn" in row(replace(taken, withdrawn=True))
    assert "corrected by 9" in row(replace(taken, corrected_by=9))
    assert "before the repair" in row(taken, past=True)
    assert "version 4 of the circuit" in row(replace(taken, aside=True), version=4)
    assert "<em>told</em>" in row(replace(taken, id=uuid4(), reading=reading.model_copy(update={"told": True})))
