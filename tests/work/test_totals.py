"""Instrument totals stand among the lines by their time and in their epoch."""

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.job.job import DEMO
from iron_probe.core.job.lines import DrainLine, RepairLine
from iron_probe.work.instrument import log_instrument_total
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log
from iron_probe.work.totals import with_totals


def test_a_total_after_a_repair_belongs_to_the_time_after_it(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        before = job_log(session, job)
        assert with_totals(session, job, before) is before
        log_instrument_total(session, job, 1.2, 0.001, series=False)
        log = append(session, job, DEMO, RepairLine(text="module replaced", elements=()))
        log_instrument_total(session, job, 0.03, 0.001, series=True)
        kept = [k for k, _ in with_totals(session, job, log).lines(DrainLine)]
        assert [k.epoch for k in kept] == [before.epoch, before.epoch + 1]
        assert [k.at for k in kept] == sorted(k.at for k in kept)
