"""Totals of a logging instrument: kept all, told when they tell."""

from uuid import uuid4

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.errors import LogError
from iron_probe.core.job.lines import DrainLine
from iron_probe.work.instrument import drain_log, log_instrument_total
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log


def test_a_total_that_moved_tells_and_one_that_stands_does_not(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        told = [log_instrument_total(session, job, amps, 0.001, series=False) for amps in (1.5, 1.5, 0.05, 0.05)]
        assert told == [True, False, True, False]
        drains = [line for _, line in drain_log(session, job).lines(DrainLine)]
        assert [line.value for line in drains] == [1.5, 0.05]
        assert not job_log(session, job).lines(DrainLine)


def test_the_same_id_is_kept_once_and_with_another_figure_refused(yard: Engine) -> None:
    with Session(yard) as session:
        job, total = find_job(session, 102), uuid4()
        assert job is not None
        assert log_instrument_total(session, job, 0.4, 0.001, series=True, total_id=total)
        assert log_instrument_total(session, job, 0.4, 0.001, series=True, total_id=total)
        with pytest.raises(LogError, match="id of its own"):
            log_instrument_total(session, job, 0.9, 0.001, series=True, total_id=total)
