"""Reports set as PDF: what was to be set, what came of it, and whether its link still opens it."""

from collections.abc import Sequence
from datetime import datetime
from uuid import UUID

from sqlalchemy import Column, LargeBinary
from sqlmodel import Field, Session, SQLModel, col, select

from iron_probe.store.tables import moment, now

MOST_LISTED = 20


class ReportPrint(SQLModel, table=True):
    """A job's report as it stood at a moment: its `page`, compressed HTML, until the PDF is set from it; `failed` says why it could not be.
    A link opens it until `ended_at`."""

    __tablename__ = "report_print"

    id: UUID = Field(primary_key=True)
    job_id: UUID = Field(foreign_key="job.id", index=True)
    by: str
    at: datetime = Field(default_factory=now, sa_column=moment())
    page: bytes | None = Field(default=None, sa_column=Column(LargeBinary))
    pdf: bytes | None = Field(default=None, sa_column=Column(LargeBinary))
    failed: str = ""
    ended_at: datetime | None = Field(default=None, sa_column=moment(needed=False))

    @property
    def waits(self) -> bool:
        """Whether it is still to be set."""
        return self.page is not None


def prints_of(session: Session, job_id: UUID) -> Sequence[ReportPrint]:
    """A job's prints, newest first."""
    query = select(ReportPrint).where(col(ReportPrint.job_id) == job_id)
    return session.exec(query.order_by(col(ReportPrint.at).desc()).limit(MOST_LISTED)).all()


def print_of(session: Session, print_id: UUID) -> ReportPrint | None:
    """A print by its id."""
    return session.get(ReportPrint, print_id)
