"""Meters that send what they show: those the yard has, what each is used for, and where the leads of a practice job are."""

from collections.abc import Sequence
from datetime import datetime
from uuid import UUID

from sqlalchemy import Column, delete, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlmodel import Field, Session, SQLModel, col, select

from iron_probe.store.tables import JobRow, moment, now

CHANNEL = "iron_probe_meter"
"""Where it is told what meters show: lines of “job's number, a JSON object”."""
CHANGED, RESET = "{}", "."
"""What is told in place of a figure where the uses of a job changed; where only agents need to look, for a stream begins anew."""


BEGINS = '{"begins": true}'
"""What is told where the stand-ins' leads are now: a key that is held, a load that is put on is counted from there."""


class MeterRow(SQLModel, table=True):
    """A meter, or one channel of it, that an agent brought: `measures` lists what it can be set to; `lost` says why it shows nothing."""

    __tablename__ = "meter"

    id: UUID = Field(primary_key=True)
    agent: str
    name: str
    address: str = ""
    identity: str = ""
    measures: list[str] = Field(default_factory=list, sa_column=Column(JSONB, nullable=False))
    channel: int = 0
    four_wire: bool = False
    factor: float = 1.0
    stand_in: bool = False
    joined: bool = False
    seen_at: datetime = Field(default_factory=now, sa_column=moment())


class MeterUse(SQLModel, table=True):
    """A meter in use on a job, as it is set there; `reset` counts how often least and greatest were begun anew, `watches` the drain of the
    job, `capture_id` is the record that is made of it, from `recorded_from` on."""

    __tablename__ = "meter_use"

    meter_id: UUID = Field(foreign_key="meter.id", primary_key=True)
    job_id: UUID = Field(foreign_key="job.id", primary_key=True, index=True)
    measured: str
    factor: float = 1.0
    zero: float = 0.0
    reset: int = 0
    watches: bool = False
    capture_id: UUID | None = None
    recorded_from: datetime | None = Field(default=None, sa_column=moment(needed=False))
    by: str = ""
    at: datetime = Field(default_factory=now, sa_column=moment())


class Placing(SQLModel, table=True):
    """Where the leads and the clamp are on the machine of a practice job, for which `instrument`, and the state it is held in since `at`."""

    __tablename__ = "placing"

    job_id: UUID = Field(foreign_key="job.id", primary_key=True)
    instrument: str = ""
    red: str = ""
    black: str = ""
    branch: str = ""
    state: str = ""
    at: datetime = Field(default_factory=now, sa_column=moment())


def join(session: Session, agent: str, rows: Sequence[MeterRow]) -> datetime:
    """Keep what an agent brings; its meters that it brings no more are not joined. The moment it joined at."""
    leave(session, agent)
    at = now()
    for row in rows:
        row.joined, row.seen_at = True, at
        session.merge(row)
    session.commit()
    return at


def leave(session: Session, agent: str, joined_at: datetime | None = None) -> None:
    """An agent went away that had joined at a moment; where it has joined again since, over another link, it stays."""
    query = "update meter set joined = false where agent = :agent and seen_at <= :at"
    session.execute(text(query), {"agent": agent, "at": joined_at or now()})
    session.commit()


def meters(session: Session) -> Sequence[MeterRow]:
    """Every meter the yard has seen, those that are joined first."""
    return session.exec(select(MeterRow).order_by(col(MeterRow.joined).desc(), col(MeterRow.name), col(MeterRow.channel)).limit(200)).all()


def uses_of(session: Session, job_id: UUID) -> Sequence[tuple[MeterUse, MeterRow]]:
    """What meters are used on a job."""
    query = select(MeterUse, MeterRow).join(MeterRow, col(MeterRow.id) == col(MeterUse.meter_id)).where(col(MeterUse.job_id) == job_id)
    return session.exec(query.order_by(col(MeterUse.at))).all()


def are_used(session: Session, number: int) -> bool:
    """Whether meters are used on a job, by its number."""
    query = select(MeterUse.meter_id).join(JobRow, col(JobRow.id) == col(MeterUse.job_id)).where(col(JobRow.number) == number)
    return session.exec(query.limit(1)).first() is not None


def use_of(session: Session, job_id: UUID, meter_id: UUID) -> MeterUse | None:
    """A meter's use on a job."""
    return session.get(MeterUse, (meter_id, job_id))


def uses_of_agent(session: Session, agent: str) -> Sequence[tuple[MeterUse, MeterRow, JobRow]]:
    """All that an agent's meters are used for, on jobs that are open."""
    query = (
        select(MeterUse, MeterRow, JobRow)
        .join(MeterRow, col(MeterRow.id) == col(MeterUse.meter_id))
        .join(JobRow, col(JobRow.id) == col(MeterUse.job_id))
        .where(col(MeterRow.agent) == agent, col(JobRow.closed_at).is_(None), col(JobRow.deleted_at).is_(None))
    )
    return session.exec(query).all()


def jobs_with(session: Session) -> dict[UUID, list[int]]:
    """Numbers of the open jobs that each meter is used on."""
    query = select(MeterUse.meter_id, JobRow.number).join(JobRow, col(JobRow.id) == col(MeterUse.job_id))
    found: dict[UUID, list[int]] = {}
    for meter, number in session.exec(query.where(col(JobRow.closed_at).is_(None), col(JobRow.deleted_at).is_(None))):
        found.setdefault(meter, []).append(number)
    return found


def use(session: Session, row: MeterUse, *, alone: bool) -> None:
    """Take a meter to a job; where it is `alone`, it is nowhere else from then on."""
    if alone:
        session.execute(delete(MeterUse).where(col(MeterUse.meter_id) == row.meter_id, col(MeterUse.job_id) != row.job_id))
    session.merge(row)


def tell(session: Session, number: int, told: str = CHANGED) -> None:
    """Tell whoever listens what is new on a job, once this is committed."""
    session.execute(text("select pg_notify(:channel, :told)"), {"channel": CHANNEL, "told": f"{number} {told}"})


def placing(session: Session, job_id: UUID) -> Placing | None:
    """Where the leads of a practice job are."""
    return session.get(Placing, job_id)
