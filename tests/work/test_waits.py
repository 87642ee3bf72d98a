"""A wait that comes due is told once it does, and not long after."""

from datetime import timedelta

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.job.job import TECHNICIAN
from iron_probe.core.job.lines import WaitLine
from iron_probe.store.tables import now
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append
from iron_probe.work.waits import REACH, tell_due


def test_it_is_told_while_it_has_just_come_due(yard: Engine) -> None:
    with Session(yard) as session:
        job, until = find_job(session, 102), now() + timedelta(hours=700)
        assert job is not None
        append(session, job, TECHNICIAN, WaitLine(text="parts on order", until=until))
        moments = (until - timedelta(seconds=1), until, until + REACH - timedelta(seconds=1), until + REACH + timedelta(seconds=1))
        assert [tell_due(session, at) for at in moments] == [0, 1, 1, 0]
