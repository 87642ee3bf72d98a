"""Every query the app runs, by name."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import func
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, select

from iron_probe.store.job_log import JobLog, Line, read_log
from iron_probe.store.tables import Job, LogEntry, now

MOST_JOBS = 200
MOST_LINES = 5000


def open_jobs(session: Session) -> Sequence[Job]:
    """Jobs in the yard, newest first, finished ones after those in hand; deleted ones left out."""
    query = select(Job).where(col(Job.deleted_at).is_(None))
    return session.exec(query.order_by(col(Job.closed_at).isnot(None), col(Job.number).desc()).limit(MOST_JOBS)).all()


def find_job(session: Session, number: int) -> Job | None:
    """A job by its number, deleted or not."""
    return session.exec(select(Job).where(col(Job.number) == number)).first()


def add_job(session: Session, job: Job) -> Job:
    """Keep a job; the same id posted twice gives back the first."""
    known = session.get(Job, job.id)
    if known is None:
        values = job.model_dump(exclude={"number"})
        session.execute(insert(Job).values(**values).on_conflict_do_nothing(index_elements=["id"]))
        session.commit()
        known = session.get_one(Job, job.id)
    return known


def save_job(session: Session, job: Job) -> None:
    """Keep changed intake answers or settings."""
    session.add(job)
    session.commit()


def append(session: Session, job: Job, entry_id: UUID, line: Line, at: datetime | None = None) -> bool:
    """Write a line to a job's log; False when a line of that id is there already, which then stands unchanged."""
    payload: dict[str, Any] = line.model_dump(mode="json", exclude={"kind"})
    values = {"id": entry_id, "job_id": job.id, "at": at or now(), "kind": line.kind, "payload": payload}
    done = session.execute(insert(LogEntry).values(**values).on_conflict_do_nothing(index_elements=["id"]).returning(col(LogEntry.id)))
    written = done.first() is not None
    session.commit()
    return written


def job_log(session: Session, job: Job) -> JobLog:
    """A job's log as it stands."""
    query = select(LogEntry).where(col(LogEntry.job_id) == job.id).order_by(col(LogEntry.seq)).limit(MOST_LINES)
    return read_log([(e.id, e.at, e.kind, e.payload) for e in session.exec(query)])


def count_jobs(session: Session) -> int:
    """Number of jobs ever kept."""
    return session.exec(select(func.count()).select_from(Job)).one()
