"""The tables: a job, its append-only log, and its captures."""

from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import BigInteger, Column, DateTime, Identity, Index, LargeBinary, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field, SQLModel


def now() -> datetime:
    """The present moment, with its zone."""
    return datetime.now(UTC)


class Job(SQLModel, table=True):
    """A machine taken in with a complaint. Intake answers and settings may be changed; what was measured never is.

    `drain` holds the settings of drain work: whose limit, how to sweep, ground cables, and fuses corrected.
    """

    id: UUID = Field(primary_key=True)
    number: int = Field(sa_column=Column(BigInteger, Identity(start=101), nullable=False, unique=True))
    sheet_id: str
    machine: str
    complaint: str = ""
    symptom: str = ""
    circumstances: str = ""
    changed_before: str = ""
    replaced_before: str = ""
    school: str = "common"
    method: str = "best"
    temp_degc: float = 20.0
    cold_degc: float = -10.0
    marks: dict[str, str] = Field(default_factory=dict, sa_column=Column(JSONB, nullable=False, server_default=text("'{}'")))
    absent: list[str] = Field(default_factory=list, sa_column=Column(JSONB, nullable=False))
    drain: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSONB, nullable=False, server_default=text("'{}'")))
    created_at: datetime = Field(default_factory=now, sa_column=Column(DateTime(timezone=True), nullable=False))
    closed_at: datetime | None = Field(default=None, sa_column=Column(DateTime(timezone=True)))
    deleted_at: datetime | None = Field(default=None, sa_column=Column(DateTime(timezone=True)))


class Capture(SQLModel, table=True):
    """A record taken by a scope or logger. `status` is new (laid out next), reading, ready or failed; `preview`, `layout` and `facts`
    are what `core/trace` makes of it; the samples are in `capture_block`."""

    id: UUID = Field(primary_key=True)
    job_id: UUID = Field(foreign_key="job.id", nullable=False, index=True)
    at: datetime = Field(default_factory=now, sa_column=Column(DateTime(timezone=True), nullable=False))
    filename: str
    size_bytes: int = Field(sa_column=Column(BigInteger, nullable=False))
    status: str = "new"
    read_samples: int = 0
    message: str = ""
    preview: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSONB, nullable=False))
    layout: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSONB, nullable=False))
    facts: dict[str, Any] = Field(default_factory=dict, sa_column=Column(JSONB, nullable=False))
    deleted_at: datetime | None = Field(default=None, sa_column=Column(DateTime(timezone=True)))


class CaptureBlock(SQLModel, table=True):
    """A stretch of a channel at one level of its pyramid, compressed: samples where `span` is 1, else least and greatest of each span."""

    __tablename__ = "capture_block"

    capture_id: UUID = Field(foreign_key="capture.id", primary_key=True)
    channel: int = Field(primary_key=True)
    span: int = Field(primary_key=True)
    block: int = Field(primary_key=True)
    data: bytes = Field(sa_column=Column(LargeBinary, nullable=False))


class CaptureLayout(SQLModel, table=True):
    """A layout kept under a name, for the next file of the same scope."""

    __tablename__ = "capture_layout"

    name: str = Field(primary_key=True)
    layout: dict[str, Any] = Field(sa_column=Column(JSONB, nullable=False))


class LogEntry(SQLModel, table=True):
    """One line of a job's log, never changed: `kind` says how to read `payload`; `seq` orders all lines.

    The id is made by the client, so that a line posted twice is written once.
    """

    __tablename__ = "log_entry"
    __table_args__ = (Index("log_entry_by_job", "job_id", "seq"),)

    id: UUID = Field(primary_key=True)
    job_id: UUID = Field(foreign_key="job.id", nullable=False)
    seq: int = Field(sa_column=Column(BigInteger, Identity(), nullable=False, unique=True))
    at: datetime = Field(default_factory=now, sa_column=Column(DateTime(timezone=True), nullable=False))
    kind: str
    payload: dict[str, Any] = Field(sa_column=Column(JSONB, nullable=False))
