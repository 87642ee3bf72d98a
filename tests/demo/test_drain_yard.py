"""The demo's drains are hunted with readings that their own machines give."""

from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.core.job.lines import DrainLine
from iron_probe.work.drain_work import drain_work
from iron_probe.work.instrument import drain_log
from iron_probe.work.jobs import find_job


def test_every_drain_of_the_yard_has_a_total_and_no_reading_without_a_place(yard: Engine) -> None:
    with Session(yard) as session:
        numbers = session.execute(text("select distinct j.number from job j join log_entry l on l.job_id = j.id where l.kind = 'drain'"))
        found = [j for n in numbers.scalars() if (j := find_job(session, n)) is not None]
        assert len(found) >= 2
        for job in found:
            log = drain_log(session, job)
            assert log.lines(DrainLine)
            assert all(entry.amps is not None or entry.why for entry in drain_work(job, log).entries)
