"""One way to add a line: kept once, in order, whoever writes at the same moment."""

from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from uuid import UUID, uuid4

import pytest
from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.errors import LogError
from iron_probe.core.job.job import TECHNICIAN, Job
from iron_probe.core.job.lines import AnyLine, KnownLine, ReadingLine
from iron_probe.core.job.numbering import numbered
from iron_probe.core.kept import Kept
from iron_probe.store import queries
from iron_probe.store.tables import now
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log


def job_of(engine: Engine, number: int = 102) -> Job:
    with Session(engine) as session:
        job = find_job(session, number)
    assert job is not None
    return job


def volts(value: float, state: str = "crank") -> ReadingLine:
    return ReadingLine(reading=Reading(red="bat.plus", black="bat.minus", state=state, value=value), typed=str(value))


def write(engine: Engine, job: Job, line: AnyLine, entry_id: UUID | None = None) -> None:
    with Session(engine) as session:
        append(
            session, job, TECHNICIAN, line, entry_id=entry_id,
            settle=lambda line, log: numbered(line, log, job.sheet, same_crank=False) if isinstance(line, ReadingLine) else line,
        )  # fmt: skip


def test_the_same_line_twice_is_one_and_another_under_its_id_is_refused(yard: Engine) -> None:
    job, entry = job_of(yard), uuid4()
    write(yard, job, volts(11.2), entry)
    write(yard, job, volts(11.2), entry)
    with pytest.raises(LogError, match="Something else was logged"):
        write(yard, job, volts(9.9), entry)
    with pytest.raises(LogError, match="Something else was logged"):
        write(yard, job_of(yard, 103), volts(11.2, "rest"), entry)
    with Session(yard) as session:
        assert session.execute(text("select count(*) from log_entry where id = :i"), {"i": entry}).scalar_one() == 1


def test_marks_made_at_once_are_all_kept_and_cranks_numbered_apart(yard: Engine) -> None:
    job = job_of(yard)
    parts = [e.id for e in job.sheet.elements[:6]]
    with ThreadPoolExecutor(6) as pool:
        list(pool.map(lambda e: write(yard, job, KnownLine(element=e, mark="absent")), parts))
        list(pool.map(lambda v: write(yard, job, volts(v)), [10.1, 10.2, 10.3, 10.4, 10.5, 10.6]))
    with Session(yard) as session:
        log = job_log(session, job)
    assert sorted(log.absent) == sorted(parts)
    cranks = [r.reading.crank for r in log.readings][-6:]
    assert len(set(cranks)) == 6


def test_of_two_who_correct_one_reading_at_once_one_is_told_it_no_longer_counts(yard: Engine) -> None:
    job, entry = job_of(yard), uuid4()
    write(yard, job, volts(11.2), entry)

    def correct(value: float) -> str:
        try:
            write(yard, job, volts(value).model_copy(update={"corrects": entry}))
        except LogError as error:
            return str(error)
        return ""

    with ThreadPoolExecutor(2) as pool:
        told = list(pool.map(correct, (11.3, 11.4)))
    assert sorted(map(bool, told)) == [False, True] and "corrected elsewhere" in max(told)
    with Session(yard) as session:
        log = job_log(session, job)
    values = {r.reading.value: r.counts for r in log.readings}
    assert values[11.2] is False and [values[v] for v in (11.3, 11.4) if v in values] == [True]


def test_with_the_clock_put_back_lines_keep_their_order_and_none_is_lost(yard: Engine) -> None:
    job, at = job_of(yard), now()
    with Session(yard) as session:
        for hours, value in ((0, 11.1), (-5, 11.2), (-30, 11.3)):
            log = append(session, job, TECHNICIAN, volts(value, "rest"), at=at + timedelta(hours=hours))
    assert [r.reading.value for r in log.readings][-3:] == [11.1, 11.2, 11.3]
    next(k for k in Kept.every if k.name == "logs").clear()
    with Session(yard) as session:
        assert job_log(session, job) == log


def test_a_process_that_meets_a_job_first_folds_the_same_from_its_snapshot(yard: Engine, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("iron_probe.work.logs.SNAPSHOT_EVERY", 4)
    job = job_of(yard)
    for k in range(9):
        write(yard, job, volts(10 + k / 10))
    with Session(yard) as session:
        before = job_log(session, job)
        next(k for k in Kept.every if k.name == "logs").clear()
        assert session.execute(text("select count(*) from job_snapshot")).scalar_one() == 1
        assert job_log(session, job) == before


def test_a_line_that_could_not_be_kept_is_not_remembered(yard: Engine) -> None:
    job = job_of(yard)

    def refuse(line: AnyLine, log: object) -> AnyLine:
        raise LogError("no")

    with Session(yard) as session, pytest.raises(LogError):
        append(session, job, TECHNICIAN, volts(3.0), settle=refuse)
    with Session(yard) as session:
        assert all(r.reading.value != 3.0 for r in job_log(session, job).readings)


def test_lines_are_asked_for_only_where_the_job_was_looked_up_with_newer_ones(yard: Engine, monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[int] = []
    behind = queries.lines_behind
    monkeypatch.setattr(queries, "lines_behind", lambda session, job_id, seq: asked.append(seq) or behind(session, job_id, seq))
    with Session(yard) as session:
        known = len(job_log(session, job_of(yard)).readings)
    asked.clear()
    with Session(yard) as session:
        assert len(job_log(session, job_of(yard)).readings) == known and not asked
    with monkeypatch.context() as elsewhere:  # what another process writes
        elsewhere.setattr("iron_probe.work.logs._folds", Kept("logs elsewhere", 8))
        write(yard, job_of(yard), volts(9.8))
    asked.clear()
    with Session(yard) as session:
        assert len(job_log(session, job_of(yard)).readings) == known + 1 and len(asked) == 1
