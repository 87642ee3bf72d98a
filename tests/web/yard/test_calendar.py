"""Waits as a calendar that other programs read."""

from datetime import UTC, datetime

from iron_probe.core.job.day import InHand
from iron_probe.core.job.step import Due, JobStep
from iron_probe.web.yard.calendar import calendar_of
from tests.conftest import Visitor

AT = datetime(2026, 11, 30, 9, 0, tzinfo=UTC)


def test_an_event_a_wait_escaped_and_folded() -> None:
    wait = Due(text="parts; on order, for the “långe” pump " * 3 + "\nSUMMARY:not ours", until=AT)
    job = InHand(number=7, machine="Bus 7", page="", step=JobStep(), waits=(wait,), last_at=AT)
    text = calendar_of([job], "yard.example", AT)
    lines = text.split("\r\n")
    assert all(len(line.encode()) <= 75 for line in lines) and lines.count("BEGIN:VEVENT") == 1
    whole = text.replace("\r\n ", "")
    assert "DTSTART:20261130T090000Z" in whole and "SUMMARY:Bus 7: parts\\; on order\\, for the" in whole
    assert sum(line.startswith("SUMMARY") for line in lines) == 1  # what was typed begins no line of its own


def test_the_yard_gives_it(visitor: Visitor) -> None:
    visitor.submit("/jobs/102/wait", kind="soaks in the cold", time="8 h")
    assert "SUMMARY:Bus 12\\, school run: soaks in the cold" in visitor.get("/waits.ics").text
