"""Practice cases: what is hidden in a practice machine, and the replay of how it was worked."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Column, text
from sqlalchemy.dialects.postgresql import JSONB, insert
from sqlmodel import Field, Session, SQLModel, col, select

from iron_probe.store.tables import JobRow, moment, now

MOST_LISTED, MOST_MARKED = 200, 2000


class PracticeRow(SQLModel, table=True):
    """The case of a practice job: its `level`, the machine, the `number` it was asked for by and the `seed` it is drawn by, the `faults` hidden in it, `by` whom it is worked, what hands did in it beside readings (`handled`: by, element, state, and after how many repairs), and its
    `replay` and its `marks` once they were worked out."""

    __tablename__ = "practice"

    job_id: UUID = Field(foreign_key="job.id", primary_key=True)
    level: str
    sheet_id: str
    number: int
    seed: int
    faults: list[dict[str, Any]] = Field(default_factory=list, sa_column=Column(JSONB, nullable=False))
    by: str
    at: datetime = Field(default_factory=now, sa_column=moment())
    replay: dict[str, Any] | None = Field(default=None, sa_column=Column(JSONB))
    marks: int | None = None
    handled: list[dict[str, Any]] = Field(default_factory=list, sa_column=Column(JSONB, nullable=False, server_default=text("'[]'")))


def keep_case(session: Session, row: PracticeRow) -> None:
    """Keep a case; one that is there already stays as it is, whoever sent it twice."""
    session.execute(insert(PracticeRow).values(**row.model_dump()).on_conflict_do_nothing(index_elements=["job_id"]))
    session.commit()


def case_row(session: Session, job_id: UUID) -> PracticeRow | None:
    """The case of a job; None where it is none of the bay's."""
    return session.get(PracticeRow, job_id)


def cases(session: Session, by: str = "") -> Sequence[tuple[PracticeRow, JobRow]]:
    """Cases with their jobs, newest first; only somebody's own where a name is given. Deleted ones are left out."""
    query = select(PracticeRow, JobRow).join(JobRow, col(JobRow.id) == col(PracticeRow.job_id)).where(col(JobRow.deleted_at).is_(None))
    if by:
        query = query.where(col(PracticeRow.by) == by)
    return session.exec(query.order_by(col(JobRow.number).desc()).limit(MOST_LISTED)).all()


def unmarked(session: Session) -> Sequence[UUID]:
    """Jobs of closed cases whose marks are yet to be worked out."""
    query = select(PracticeRow.job_id).join(JobRow, col(JobRow.id) == col(PracticeRow.job_id))
    return session.exec(query.where(col(JobRow.closed_at).is_not(None), col(PracticeRow.replay).is_(None)).limit(MOST_LISTED)).all()


def marked(session: Session) -> Sequence[tuple[PracticeRow, JobRow]]:
    """Cases that have marks, with their jobs, oldest first."""
    query = select(PracticeRow, JobRow).join(JobRow, col(JobRow.id) == col(PracticeRow.job_id))
    kept = query.where(col(JobRow.deleted_at).is_(None), col(PracticeRow.marks).is_not(None))
    return list(reversed(session.exec(kept.order_by(col(JobRow.closed_at).desc()).limit(MOST_MARKED)).all()))
