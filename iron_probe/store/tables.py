"""The tables: machines with the versions of their circuit, jobs with their append-only log and summary, captures, instrument totals."""

from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import (
    BigInteger,
    Boolean,
    CheckConstraint,
    Column,
    DateTime,
    Float,
    Identity,
    Index,
    Integer,
    LargeBinary,
    Text,
    UniqueConstraint,
    false,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field, SQLModel


def now() -> datetime:
    """The present moment, with its zone."""
    return datetime.now(UTC)


def _json(default: str | None = None) -> Any:
    return Column(JSONB, nullable=False, server_default=text(default) if default else None)


def moment(*, needed: bool = True) -> Any:
    """A column of a moment with its zone."""
    return Column(DateTime(timezone=True), nullable=not needed)


class MachineRow(SQLModel, table=True):
    """A machine of the yard. `plate` is whatever it is known by on paper: plate, hull or serial number; `hours` and `km` as last read;
    `battery` is what is really fitted: type, Ah, CCA, date.
    One that left the yard is `retired_at`; one that was in the yard's books twice is `merged_into` the other, with
    what it `moved` there; one of the bay is `practice`, and in no list of the yard."""

    __tablename__ = "machine"

    id: UUID = Field(primary_key=True)
    number: int = Field(sa_column=Column(BigInteger, Identity(start=1), nullable=False, unique=True))
    name: str
    kind: str = ""
    plate: str = ""
    hours: float | None = None
    km: float | None = None
    battery: dict[str, Any] = Field(default_factory=dict, sa_column=_json("'{}'"))
    notes: str = Field(default="", sa_column=Column(Text, nullable=False, server_default=""))
    retired_at: datetime | None = Field(default=None, sa_column=moment(needed=False))
    merged_into: UUID | None = Field(default=None, foreign_key="machine.id")
    moved: dict[str, Any] = Field(default_factory=dict, sa_column=_json("'{}'"))
    practice: bool = Field(default=False, sa_column_kwargs={"server_default": false()})
    created_at: datetime = Field(default_factory=now, sa_column=moment())


class SheetVersion(SQLModel, table=True):
    """A version of a machine's circuit sheet, never changed: its number on that machine, the text and its hash, who, when, why, and the
    `answers` it was composed from, empty where it was drawn."""

    __tablename__ = "sheet_version"
    __table_args__ = (
        UniqueConstraint("machine_id", "number", name="sheet_version_machine_number"),
        Index("sheet_version_content", "content_hash"),
    )

    id: UUID = Field(primary_key=True)
    machine_id: UUID = Field(foreign_key="machine.id", nullable=False)
    number: int
    content_hash: str
    text: str
    answers: str = Field(default="", sa_column=Column(Text, nullable=False, server_default=""))
    note: str = ""
    by: str = ""
    at: datetime = Field(default_factory=now, sa_column=moment())


class JobRow(SQLModel, table=True):
    """A machine taken in with a complaint, pinned to a version of its circuit. Intake answers and settings may be changed; what was
    measured never is. `key` is what an instrument shows to log to this job, `experience` what the yard had
    found on this kind of machine when it was taken in, if it goes by that; one that was `brought_in` as a file
    is no experience of this yard, and one of the bay is `practice`: the Yard does not show it; one of these may be worked `unguided`."""

    __tablename__ = "job"

    id: UUID = Field(primary_key=True)
    number: int = Field(sa_column=Column(BigInteger, Identity(start=101), nullable=False, unique=True))
    machine_id: UUID = Field(foreign_key="machine.id", nullable=False, index=True)
    version_id: UUID = Field(foreign_key="sheet_version.id", nullable=False, index=True)
    key: str
    complaint: str = ""
    symptom: str = ""
    circumstances: str = ""
    changed_before: str = ""
    replaced_before: str = ""
    school: str = "common"
    method: str = "best"
    temp_degc: float = 20.0
    cold_degc: float = -10.0
    drain: dict[str, Any] = Field(default_factory=dict, sa_column=_json("'{}'"))
    experience: dict[str, Any] = Field(default_factory=dict, sa_column=_json("'{}'"))
    brought_in: bool = Field(default=False, sa_column_kwargs={"server_default": false()})
    practice: bool = Field(default=False, sa_column_kwargs={"server_default": false()})
    unguided: bool = Field(default=False, sa_column_kwargs={"server_default": false()})
    created_at: datetime = Field(default_factory=now, sa_column=moment())
    closed_at: datetime | None = Field(default=None, sa_column=moment(needed=False))
    deleted_at: datetime | None = Field(default=None, sa_column=moment(needed=False))


class JobSummary(SQLModel, table=True):
    """What the Yard shows of a job, written with each of its lines: `facts` as `core.job.summary` gives them; `machine`, its
    `kind` in small letters, `number`, `closed` and `deleted` stand here too, so that the Yard reads one table. History finds it by a text vector
    beside these, `words`, which no row brings with it."""

    __tablename__ = "job_summary"
    __table_args__ = (
        Index("job_summary_in_hand", "closed", text("number desc"), postgresql_where=text("not deleted")),
        Index("job_summary_machine", func.lower(text("machine")), "number", postgresql_where=text("not deleted")),
        Index("job_summary_touched", text("last_at desc"), text("number desc"), postgresql_where=text("not deleted")),
        Index("job_summary_kind", "kind", text("number desc"), postgresql_where=text("not deleted")),
    )

    job_id: UUID = Field(foreign_key="job.id", primary_key=True)
    number: int = Field(sa_column=Column(BigInteger, nullable=False, unique=True))
    machine: str
    kind: str = Field(default="", sa_column_kwargs={"server_default": ""})
    closed: bool = Field(default=False, sa_column=Column(Boolean, nullable=False))
    deleted: bool = Field(default=False, sa_column=Column(Boolean, nullable=False))
    last_at: datetime = Field(sa_column=moment())
    facts: dict[str, Any] = Field(default_factory=dict, sa_column=_json())


class JobSnapshot(SQLModel, table=True):
    """A job's log folded up to line `seq`, packed, so that a process that meets the job first reads only the lines behind it."""

    __tablename__ = "job_snapshot"

    job_id: UUID = Field(foreign_key="job.id", primary_key=True)
    seq: int = Field(sa_column=Column(BigInteger, nullable=False))
    data: bytes = Field(sa_column=Column(LargeBinary, nullable=False))


class LogEntry(SQLModel, table=True):
    """One line of a job's log, never changed: `kind` says how to read `payload`; `seq` orders all lines; `by` put it down.

    The id is made by the client, so that a line posted twice is written once; `digest` tells the same line sent twice from another one
    under its id.
    """

    __tablename__ = "log_entry"
    __table_args__ = (Index("log_entry_by_job", "job_id", "seq"),)

    id: UUID = Field(primary_key=True)
    job_id: UUID = Field(foreign_key="job.id", nullable=False)
    seq: int = Field(sa_column=Column(BigInteger, Identity(), nullable=False, unique=True))
    at: datetime = Field(default_factory=now, sa_column=moment())
    kind: str
    payload: dict[str, Any] = Field(sa_column=_json())
    by: str = Field(default="", sa_column_kwargs={"server_default": ""})
    digest: str = Field(default="", sa_column_kwargs={"server_default": ""})


class InstrumentTotal(SQLModel, table=True):
    """A total of the sleeping machine as a logging instrument sent it; `tells` where it says something the one before did not."""

    __tablename__ = "instrument_total"
    __table_args__ = (
        Index("instrument_total_telling", "job_id", "at", postgresql_where=text("tells")),
        Index("instrument_total_id", "id"),
    )

    job_id: UUID = Field(foreign_key="job.id", primary_key=True)
    at: datetime = Field(default_factory=now, sa_column=Column(DateTime(timezone=True), primary_key=True))
    id: UUID = Field(primary_key=True)
    amps: float = Field(sa_column=Column(Float, nullable=False))
    resolution_a: float = Field(sa_column=Column(Float, nullable=False))
    series: bool = False
    tells: bool = True


class Capture(SQLModel, table=True):
    """A record taken by a scope or logger. `status` is new (laid out next), reading, ready or failed; `preview`, `layout` and `facts`
    are what `core/trace` makes of it; the samples are in `capture_block`, the file as sent in `upload_block` until it is read.
    `digest` is the file's: the same file sent twice is one capture."""

    __table_args__ = (Index("capture_once", "job_id", "digest", unique=True, postgresql_where=text("deleted_at is null and digest <> ''")),)

    id: UUID = Field(primary_key=True)
    job_id: UUID = Field(foreign_key="job.id", nullable=False, index=True)
    at: datetime = Field(default_factory=now, sa_column=moment())
    filename: str
    size_bytes: int = Field(sa_column=Column(BigInteger, nullable=False))
    digest: str = Field(default="", sa_column_kwargs={"server_default": ""})
    status: str = "new"
    read_samples: int = 0
    message: str = ""
    preview: dict[str, Any] = Field(default_factory=dict, sa_column=_json())
    layout: dict[str, Any] = Field(default_factory=dict, sa_column=_json())
    facts: dict[str, Any] = Field(default_factory=dict, sa_column=_json())
    deleted_at: datetime | None = Field(default=None, sa_column=moment(needed=False))


class UploadBlock(SQLModel, table=True):
    """A stretch of an uploaded file as it was sent, until the capture is read."""

    __tablename__ = "upload_block"

    capture_id: UUID = Field(foreign_key="capture.id", primary_key=True)
    number: int = Field(sa_column=Column(Integer, primary_key=True))
    data: bytes = Field(sa_column=Column(LargeBinary, nullable=False))


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
    layout: dict[str, Any] = Field(sa_column=_json())


class Photo(SQLModel, table=True):
    """A photo of a job, or of a machine by itself, made anew as JPEG without what a camera writes beside it; `epoch` counts the repairs
    before it, `line` is the reading it was taken at, if it was."""

    __tablename__ = "photo"

    id: UUID = Field(primary_key=True)
    job_id: UUID | None = Field(default=None, foreign_key="job.id", index=True)
    machine_id: UUID | None = Field(default=None, foreign_key="machine.id", index=True)
    line: UUID | None = None
    epoch: int = 0
    caption: str
    by: str
    taken_at: datetime = Field(sa_column=moment(needed=True))
    at: datetime = Field(sa_column=moment(needed=True))
    width: int
    height: int
    jpeg: bytes = Field(sa_column=Column(LargeBinary, nullable=False))
    removed_at: datetime | None = Field(default=None, sa_column=moment(needed=False))


class YardRow(SQLModel, table=True):
    """The yard itself, as its reports are headed, with its `mark` as JPEG, and whether new jobs go by its `experience`."""

    __tablename__ = "yard"
    __table_args__ = (CheckConstraint("id = 1", name="yard_is_one"),)

    id: int = Field(default=1, sa_column=Column(Integer, primary_key=True, autoincrement=False))
    name: str = ""
    address: str = ""
    mark: bytes | None = Field(default=None, sa_column=Column(LargeBinary))
    experience: bool = Field(default=False, sa_column_kwargs={"server_default": false()})


class Secret(SQLModel, table=True):
    """A secret of this yard, made once and shared by every app process and host."""

    name: str = Field(primary_key=True)
    value: str
