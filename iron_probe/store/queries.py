"""Every query about machines and jobs, by name."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from enum import StrEnum
from functools import cache
from typing import Any, NamedTuple
from uuid import UUID, uuid4

from sqlalchemy import ColumnElement, Row, TextClause, bindparam, func, text, tuple_, update
from sqlalchemy.dialects.postgresql import JSONB, insert
from sqlmodel import Session, col, select

from iron_probe.store.tables import InstrumentTotal, JobRow, JobSnapshot, JobSummary, LogEntry, MachineRow, Secret, SheetVersion

PAGE = 60
"""Jobs on a page of the Yard."""
MOST_LISTED = 500
"""Machines or versions listed at once."""


class Sort(StrEnum):
    """How the Yard is sorted."""

    STATE = "state"
    MACHINE = "machine"
    LAST = "last"
    NUMBER = "number"


def secret(session: Session, name: str, fresh: str) -> str:
    """The yard's secret of that name; `fresh` becomes it where there is none yet."""
    session.execute(insert(Secret).values(name=name, value=fresh).on_conflict_do_nothing(index_elements=["name"]))
    session.commit()
    return session.exec(select(Secret.value).where(col(Secret.name) == name)).one()


STAMP = text(
    "select concat_ws('.', j.id, j.xmin, j.cmin, m.xmin, m.cmin, (select max(number) from sheet_version where machine_id = j.machine_id)) as stamp,"
    " coalesce((select max(seq) from log_entry where job_id = j.id), 0) as last_line"
    " from job j join machine m on m.id = j.machine_id where j.number = :number"
)
JOB = text(
    "select j.*, m.name as machine, m.kind, m.battery as battery, v.number as version, v.content_hash,"
    " (select max(number) from sheet_version where machine_id = j.machine_id) as newest"
    " from job j join machine m on m.id = j.machine_id join sheet_version v on v.id = j.version_id where j.number = :number"
)


def job_stamp(session: Session, number: int) -> tuple[str, int] | None:
    """What changes whenever a job, its machine or the versions of its sheet do, and the place of its log's newest line."""
    found = session.connection().execute(STAMP, {"number": number}).first()
    return None if found is None else (found[0], found[1])


def find_job_row(session: Session, number: int) -> dict[str, Any] | None:
    """A job by its number, deleted or not: its columns, its machine's name and battery, its version's number and hash, the newest
    version's number."""
    found = session.connection().execute(JOB, {"number": number}).mappings().first()
    return dict(found) if found is not None else None


def lock_job(session: Session, job_id: UUID) -> JobRow:
    """A job's row, held against every other writer until the transaction ends."""
    return session.exec(select(JobRow).where(col(JobRow.id) == job_id).with_for_update().execution_options(populate_existing=True)).one()


def sheet_text(session: Session, content_hash: str) -> str:
    """The text of a sheet by its content hash."""
    return session.exec(select(SheetVersion.text).where(col(SheetVersion.content_hash) == content_hash).limit(1)).one()


def machines(session: Session, search: str = "", *, retired: bool = False) -> Sequence[MachineRow]:
    """Machines of the yard by name, or those that left it; only those whose name, kind or plate holds the text, or whose number it is."""
    left = col(MachineRow.retired_at)
    query = select(MachineRow).where(
        left.is_not(None) if retired else left.is_(None), col(MachineRow.merged_into).is_(None), ~col(MachineRow.practice)
    )
    if search:
        said = func.lower(func.concat_ws(" ", MachineRow.name, MachineRow.kind, MachineRow.plate)).contains(search.lower(), autoescape=True)
        query = query.where(said | (col(MachineRow.number) == int(search)) if search.isdecimal() and len(search) < 18 else said)
    return session.exec(query.order_by(func.lower(MachineRow.name), col(MachineRow.number)).limit(MOST_LISTED)).all()


def find_machine(session: Session, number: int) -> MachineRow | None:
    """A machine by its number; of one that was merged the one it went into."""
    found = session.exec(select(MachineRow).where(col(MachineRow.number) == number)).first() if 0 < number < 2**62 else None
    while found is not None and found.merged_into is not None:
        found = session.get(MachineRow, found.merged_into)
    return found


def versions_of(session: Session, machine_id: UUID) -> Sequence[SheetVersion]:
    """The versions of a machine's sheet, newest first."""
    query = select(SheetVersion).where(col(SheetVersion.machine_id) == machine_id)
    return session.exec(query.order_by(col(SheetVersion.number).desc()).limit(MOST_LISTED)).all()


def version_or_newest(session: Session, machine_id: UUID, number: int) -> SheetVersion:
    """A version of a machine's sheet by its number; the newest where it has none of that number."""
    query = select(SheetVersion).where(col(SheetVersion.machine_id) == machine_id, col(SheetVersion.number) == number)
    return session.exec(query).first() or newest_version(session, machine_id)


def newest_version(session: Session, machine_id: UUID) -> SheetVersion:
    """The newest version of a machine's sheet."""
    query = select(SheetVersion).where(col(SheetVersion.machine_id) == machine_id)
    return session.exec(query.order_by(col(SheetVersion.number).desc()).limit(1)).one()


def add_version(session: Session, machine_id: UUID, content_hash: str, sheet: str, note: str, by: str, answers: str = "") -> SheetVersion:
    """Keep a new version of a machine's sheet; one whose content is the newest's is that version. The answers a machine was composed from
    go on with its later versions."""
    session.exec(select(MachineRow.id).where(col(MachineRow.id) == machine_id).with_for_update()).one()  # numbers are given one at a time
    newest = session.exec(
        select(SheetVersion).where(col(SheetVersion.machine_id) == machine_id).order_by(col(SheetVersion.number).desc()).limit(1)
    ).first()
    if newest is not None and newest.content_hash == content_hash:
        return newest
    row = SheetVersion(
        id=uuid4(),
        machine_id=machine_id,
        number=1 + (newest.number if newest else 0),
        content_hash=content_hash,
        text=sheet,
        answers=answers or (newest.answers if newest else ""),
        note=note,
        by=by,
    )
    session.add(row)
    session.flush()
    return row


def summaries_of(session: Session, machine_id: UUID, before: int | None = None, most: int = MOST_LISTED) -> Sequence[JobSummary]:
    """Summaries of a machine's jobs, newest first, or only of those before a job's number; deleted ones left out."""
    mine = select(JobRow.id).where(col(JobRow.machine_id) == machine_id)
    query = select(JobSummary).where(col(JobSummary.job_id).in_(mine), ~col(JobSummary.deleted))
    if before is not None:
        query = query.where(col(JobSummary.number) < before)
    return session.exec(query.order_by(col(JobSummary.number).desc()).limit(most)).all()


def jobs_of(session: Session, machine_id: UUID) -> Sequence[JobRow]:
    """Jobs of a machine, newest first; deleted ones left out."""
    query = select(JobRow).where(col(JobRow.machine_id) == machine_id, col(JobRow.deleted_at).is_(None))
    return session.exec(query.order_by(col(JobRow.number).desc()).limit(MOST_LISTED)).all()


def yard_page(session: Session, sort: Sort, after: Sequence[Any] = (), search: str = "") -> Sequence[JobSummary]:
    """A page of the Yard behind the row with the sort key `after`, and one row more where there is a next page; deleted jobs left out."""
    keys = {
        Sort.STATE: (col(JobSummary.closed), -col(JobSummary.number)),
        Sort.MACHINE: (func.lower(JobSummary.machine), col(JobSummary.number)),
        Sort.LAST: (col(JobSummary.last_at), -col(JobSummary.number)),
        Sort.NUMBER: (col(JobSummary.number),),
    }[sort]
    order = {
        Sort.STATE: (col(JobSummary.closed), col(JobSummary.number).desc()),
        Sort.MACHINE: (func.lower(JobSummary.machine), col(JobSummary.number)),
        Sort.LAST: (col(JobSummary.last_at).desc(), col(JobSummary.number).desc()),
        Sort.NUMBER: (col(JobSummary.number),),
    }[sort]
    query = select(JobSummary).where(~col(JobSummary.deleted))  # as the indexes say it: "is false" would use none of them
    if search:
        query = query.where(_found(session, search))
    if after:
        query = query.where(_behind(sort, after) if sort in (Sort.STATE, Sort.LAST) else tuple_(*keys) > tuple_(*after))
    return session.exec(query.order_by(*order).limit(PAGE + 1)).all()


FEW = 2000
"""Jobs a search finds at the most to be gathered first and sorted then; where it finds more, the order is walked until a page is full."""


def _found(session: Session, search: str) -> ColumnElement[bool]:
    """Rows whose machine's name holds the text, or whose number it is. Which way is quick hangs on how many there are, and the database
    guesses that badly for a part of a word."""
    said: ColumnElement[bool] = func.lower(JobSummary.machine).contains(search.lower(), autoescape=True)
    if search.isdecimal():
        said = said | (col(JobSummary.number) == int(search))
    return gathered(session, said)


def gathered(session: Session, said: ColumnElement[bool]) -> ColumnElement[bool]:
    """A condition on summaries, worked out first where it holds of few: the database then need not walk an order to its end for them."""
    first = select(col(JobSummary.job_id)).where(said, ~col(JobSummary.deleted)).limit(FEW + 1).subquery()
    if session.exec(select(func.count()).select_from(first)).one() > FEW:
        return said
    return col(JobSummary.job_id).in_(select(col(JobSummary.job_id)).where(said).offset(0))  # worked out first, for its offset


def _behind(sort: Sort, after: Sequence[Any]) -> Any:
    """Rows behind one in an order that falls: closed ones after those in hand, or older, each by falling number."""
    first, number = after
    if sort is Sort.LAST:
        return tuple_(col(JobSummary.last_at), col(JobSummary.number)) < tuple_(first, number)
    same = (col(JobSummary.closed) == first) & (col(JobSummary.number) < number)
    return same if first else same | col(JobSummary.closed)


def rename_in_yard(session: Session, machine_id: UUID, name: str, kind: str) -> None:
    """Show a machine's jobs under its new name and kind."""
    mine = select(JobRow.id).where(col(JobRow.machine_id) == machine_id).scalar_subquery()
    session.execute(update(JobSummary).where(col(JobSummary.job_id).in_(mine)).values(machine=name, kind=kind.lower()))


@cache
def _keeping_summary(names: tuple[str, ...]) -> TextClause:
    listed, said = ", ".join(names), ", ".join(f"to_tsvector('english', :{n})" if n == "words" else f":{n}" for n in names)
    anew = ", ".join(f"{n} = excluded.{n}" for n in names)
    put = text(f"insert into job_summary (job_id, {listed}) values (:job_id, {said}) on conflict (job_id) do update set {anew}")
    return put.bindparams(bindparam("facts", type_=JSONB)) if "facts" in names else put


def keep_summary(session: Session, job_id: UUID, **values: Any) -> None:
    """Write a job's summary, or only some of it where it stands already."""
    session.execute(_keeping_summary(tuple(values)), {"job_id": job_id, **values})


def unsummarised(session: Session, most: int = 200) -> Sequence[int]:
    """Numbers of jobs whose summary was not worked out yet."""
    return session.exec(
        select(JobSummary.number).where(col(JobSummary.facts) == {}).order_by(col(JobSummary.number).desc()).limit(most)
    ).all()


def awaiting_engine(session: Session) -> Sequence[int]:
    """Numbers of the jobs in hand whose summary was worked out while the engine was not ready."""
    awaits = col(JobSummary.facts)["awaits_engine"].as_boolean()
    query = select(JobSummary.number).where(~col(JobSummary.deleted), ~col(JobSummary.closed), awaits)
    return session.exec(query.order_by(col(JobSummary.number).desc()).limit(MOST_LISTED)).all()


HOLD_JOB = text(
    "select deleted_at, exists(select from instrument_total where job_id = :job and tells) as sent from job where id = :job for update of job"
)
FIND_LINE = text("select job_id, digest from log_entry where id = :id")


LATE = timedelta(minutes=2)
"""Between taking a figure and entering it, from where both are told."""


class Hand(NamedTuple):
    """Who put a line down, and when it was entered."""

    by: str
    entered_at: datetime

    def late(self, taken_at: datetime) -> bool:
        """Whether it was entered some time after it was taken."""
        return self.entered_at - taken_at > LATE


def hands_of(session: Session, job_id: UUID) -> dict[UUID, Hand]:
    """Who put each line of a job's log down, and when."""
    rows = session.execute(select(col(LogEntry.id), col(LogEntry.by), col(LogEntry.at)).where(col(LogEntry.job_id) == job_id))
    return {row[0]: Hand(row[1], row[2]) for row in rows}


NEWEST_LINES = 2000
"""How many of the newest lines are looked through for who is at work."""


def in_hand(session: Session, *, waiting: bool = False) -> Sequence[JobSummary]:
    """Summaries of all jobs that are not closed, newest first; only of those that wait for something."""
    query = select(JobSummary).where(~col(JobSummary.deleted), ~col(JobSummary.closed))
    if waiting:
        query = query.where(func.jsonb_array_length(func.coalesce(col(JobSummary.facts)["waits"], text("'[]'::jsonb"))) > 0)
    return session.exec(query.order_by(col(JobSummary.number).desc()).limit(MOST_LISTED)).all()


def hands_at_work(session: Session, since: datetime) -> dict[int, str]:
    """Who put the newest line down on each job that had one since a moment."""
    newest = select(func.coalesce(func.max(LogEntry.seq), 0) - NEWEST_LINES).scalar_subquery()
    query = (
        select(JobRow.number, LogEntry.by).join(JobRow, col(JobRow.id) == col(LogEntry.job_id)).where(col(LogEntry.at) > since, col(LogEntry.seq) > newest)
        .order_by(col(LogEntry.seq).desc()).limit(MOST_LISTED)
    )  # fmt: skip
    found: dict[int, str] = {}
    for number, by in session.exec(query).all():
        found.setdefault(number, by)
    return found


class Held(NamedTuple):
    """A job's row, held: when it was deleted, if it was, and whether an instrument sent totals that tell something."""

    deleted_at: datetime | None
    sent: bool


def hold_job(session: Session, job_id: UUID) -> Held:
    """Hold a job's row against every other writer until the transaction ends."""
    return Held(*session.execute(HOLD_JOB, {"job": job_id}).one())


def find_line(session: Session, entry_id: UUID) -> tuple[UUID, str]:
    """The job and the digest of a line by its id."""
    found = session.execute(FIND_LINE, {"id": entry_id}).one()
    return found.job_id, found.digest


LINES_BEHIND = text("select id, seq, at, kind, payload from log_entry where job_id = :job and seq > :seq order by seq")


def lines_behind(session: Session, job_id: UUID, seq: int) -> Sequence[Row[Any]]:
    """A job's lines behind line `seq`, oldest first."""
    return session.execute(LINES_BEHIND, {"job": job_id, "seq": seq}).all()


LINE_CHANNEL = "iron_probe_line"
"""Where the database tells of every line: “job's number, its place, its id”."""
ADD_LINE = text(
    "with put as (insert into log_entry (id, job_id, at, kind, payload, by, digest) values (:id, :job_id, :at, :kind, :payload, :by, :digest)"
    " on conflict (id) do nothing returning seq)"
    f" select seq, pg_notify('{LINE_CHANNEL}', concat_ws(' ', cast(:number as bigint), seq, cast(:id as uuid))) from put"
).bindparams(bindparam("payload", type_=JSONB))


def add_line(session: Session, entry: LogEntry, number: int) -> int | None:
    """Write a line of job `number`, and tell whoever listens once it stands; its place in the order of all lines, or None where its id is taken."""
    row = session.execute(ADD_LINE, {**entry.model_dump(exclude={"seq"}), "number": number}).one_or_none()
    return None if row is None else int(row[0])


DUE_CHANNEL = "iron_probe_due"
"""Where it is told that a wait came due: “job's number, until when, what”."""


def tell_due(session: Session, number: int, until: datetime, what: str) -> None:
    """Tell whoever listens that a wait came due."""
    session.execute(
        text("select pg_notify(:channel, :told)"), {"channel": DUE_CHANNEL, "told": f"{number} {until.timestamp():.0f} {what}"[:400]}
    )


def last_line(session: Session, number: int) -> int:
    """The place of the newest line of a job's log, of all logs where the number is 0; 0 where there is none."""
    query = select(func.max(LogEntry.seq))
    if number:
        query = query.join(JobRow, col(JobRow.id) == col(LogEntry.job_id)).where(col(JobRow.number) == number)
    return session.exec(query).one() or 0


def snapshot_of(session: Session, job_id: UUID) -> JobSnapshot | None:
    """The newest snapshot of a job's log."""
    return session.exec(select(JobSnapshot).where(col(JobSnapshot.job_id) == job_id)).first()


def keep_snapshot(session: Session, job_id: UUID, seq: int, data: bytes) -> None:
    """Keep a snapshot in place of an older one."""
    values = {"seq": seq, "data": data}
    session.execute(insert(JobSnapshot).values(job_id=job_id, **values).on_conflict_do_update(index_elements=["job_id"], set_=values))


def find_total(session: Session, total_id: UUID) -> InstrumentTotal | None:
    """An instrument's total by its id, of any job."""
    return session.exec(select(InstrumentTotal).where(col(InstrumentTotal.id) == total_id)).first()


def add_total(session: Session, row: InstrumentTotal) -> None:
    """Write an instrument's total."""
    session.add(row)
    session.flush()


def last_telling(session: Session, job_id: UUID) -> InstrumentTotal | None:
    """The newest instrument total that told something."""
    query = select(InstrumentTotal).where(col(InstrumentTotal.job_id) == job_id, col(InstrumentTotal.tells))
    return session.exec(query.order_by(col(InstrumentTotal.at).desc()).limit(1)).first()


MOST_TELLING = 4000
"""Telling instrument totals judged at once: nine weeks at one in five minutes and some hundred steps."""


def telling_totals(session: Session, job_id: UUID) -> Sequence[InstrumentTotal]:
    """The instrument totals of a job that told something, oldest first; the newest where there are very many."""
    query = select(InstrumentTotal).where(col(InstrumentTotal.job_id) == job_id, col(InstrumentTotal.tells))
    return list(reversed(session.exec(query.order_by(col(InstrumentTotal.at).desc()).limit(MOST_TELLING)).all()))


def count_jobs(session: Session) -> int:
    """Number of jobs ever kept."""
    return session.exec(select(func.count()).select_from(JobRow)).one()
