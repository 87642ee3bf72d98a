"""Attempts at a state are numbered: cranks apart unless one says it was the same, others while they are held."""

from datetime import UTC, datetime
from uuid import uuid4

import pytest

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.errors import LogError
from iron_probe.core.job.fold import JobLog, read_log
from iron_probe.core.job.lines import ReadingLine
from iron_probe.core.job.numbering import numbered


def line(sheet: Sheet, state: str = "crank", **more: object) -> ReadingLine:
    reading = Reading(red=sheet.plus, black=sheet.minus, state=state, value=10.0)
    return ReadingLine.model_validate({"reading": reading, "typed": "10", **more})


def log_of(*lines: ReadingLine) -> JobLog:
    rows = [
        (uuid4(), k, datetime(2026, 1, 1, tzinfo=UTC), "reading", x.model_dump(mode="json", exclude={"kind"}))
        for k, x in enumerate(lines, 1)
    ]
    return read_log(rows)


def test_each_crank_has_the_next_number_and_the_same_crank_the_same(minibus: Sheet) -> None:
    first = numbered(line(minibus), log_of(), minibus, same_crank=False)
    assert first.reading.crank == 1
    log = log_of(first)
    assert numbered(line(minibus), log, minibus, same_crank=False).reading.crank == 2
    assert numbered(line(minibus), log, minibus, same_crank=True).reading.crank == 1
    other = [s for s, state in minibus.states.items() if state.cranking][1]
    assert numbered(line(minibus, other), log, minibus, same_crank=False).reading.crank == 2  # all cranks are counted together


def test_a_state_is_held_until_another_is_read_in(minibus: Sheet) -> None:
    taken: list[ReadingLine] = []
    for state in ("run", "run", "crank", "run", "rest", "run"):
        taken.append(numbered(line(minibus, state), log_of(*taken), minibus, same_crank=False))
    assert [x.reading.crank for x in taken] == [1, 1, 1, 2, 1, 3]


def test_what_corrects_a_reading_was_taken_in_the_same_crank(minibus: Sheet) -> None:
    taken: list[ReadingLine] = []
    for _ in range(3):
        taken.append(numbered(line(minibus), log_of(*taken), minibus, same_crank=False))
    log = log_of(*taken)
    second = log.readings[1]
    assert numbered(line(minibus, corrects=second.id), log, minibus, same_crank=True).reading.crank == 2
    assert numbered(line(minibus, "run", corrects=second.id), log, minibus, same_crank=True).reading.crank == 1  # it was another state


def test_what_no_longer_counts_cannot_be_corrected(minibus: Sheet) -> None:
    with pytest.raises(LogError):
        numbered(line(minibus, corrects=uuid4()), log_of(line(minibus)), minibus, same_crank=False)
