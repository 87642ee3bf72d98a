"""A logging instrument writes to a job: every total is kept, as a time series of its own beside the log."""

from datetime import timedelta
from uuid import UUID, uuid4

from sqlmodel import Session

from iron_probe.core.errors import LogError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.store import queries
from iron_probe.store.tables import InstrumentTotal, now
from iron_probe.work.logs import job_log
from iron_probe.work.summary import keep_summary
from iron_probe.work.totals import with_totals

CHANGED_SHARE, CHANGED_A = 0.04, 0.004
"""A total that moved by less than this share and this many amperes [A] tells what the one before told."""
AT_LEAST = timedelta(minutes=5)
"""One total tells this often even if nothing moves: three days are under nine hundred."""


def log_instrument_total(
    session: Session, job: Job, amps: float, resolution_a: float, *, series: bool, total_id: UUID | None = None
) -> bool:
    """Keep a total [A]; whether it tells something new. The same id sent twice is kept once; with another figure it is refused: LogError."""
    queries.hold_job(session, job.id)
    if total_id is not None and (known := queries.find_total(session, total_id)) is not None:
        session.commit()
        if known.job_id != job.id or known.amps != amps:
            raise LogError("Another total was logged under this id already, so this one was not: give each total an id of its own.")
        return known.tells
    before, at = queries.last_telling(session, job.id), now()
    moved = before is None or abs(before.amps - amps) > max(CHANGED_SHARE * abs(amps), CHANGED_A)
    tells = moved or (before is not None and at - before.at >= AT_LEAST)
    queries.add_total(
        session,
        InstrumentTotal(job_id=job.id, at=at, id=total_id or uuid4(), amps=amps, resolution_a=resolution_a, series=series, tells=tells),
    )
    if tells:
        keep_summary(session, job, drain_log(session, job))
    session.commit()
    return tells


def drain_log(session: Session, job: Job) -> JobLog:
    """A job's log with what instruments sent: what the drain screens and the report show."""
    return with_totals(session, job, job_log(session, job))
