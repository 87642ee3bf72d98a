"""A job's log as it stands, and the one way to add a line to it."""

import hashlib
import threading
import zlib
from collections.abc import Callable
from datetime import datetime
from typing import Any
from uuid import UUID, uuid4

from pydantic import TypeAdapter
from sqlmodel import Session

from iron_probe.core.errors import LogError
from iron_probe.core.job.fits import fits_of
from iron_probe.core.job.fold import Fold, JobLog
from iron_probe.core.job.job import Actor, Job
from iron_probe.core.job.lines import AnyLine, Line
from iron_probe.core.kept import Kept
from iron_probe.store import queries
from iron_probe.store.tables import LogEntry, now
from iron_probe.work.summary import keep_summary
from iron_probe.work.totals import with_totals

SNAPSHOT_EVERY = 500
"""Lines between two snapshots: a process that meets a job first reads at most so many rows beside its snapshot."""
LINES: TypeAdapter[list[tuple[UUID, int, datetime, Line]]] = TypeAdapter(list[tuple[UUID, int, datetime, Line]])

_folds: Kept[tuple[UUID, datetime, UUID], tuple[Fold, threading.Lock]] = Kept("logs", 512)


def _key(job: Job) -> tuple[UUID, datetime, UUID]:
    return job.id, job.created_at, job.pinned.version_id


def job_log(session: Session, job: Job) -> JobLog:
    """A job's log as it stood when the job was looked up, or since: what this process folded before, and the lines behind it."""
    fold, guard = _fold_of(session, job)
    with guard:
        return (fold if fold.seq >= job.last_line else _caught_up(session, job, fold)).log


def _fold_of(session: Session, job: Job) -> tuple[Fold, threading.Lock]:
    return _folds.get(_key(job), lambda: (_from_snapshot(session, job), threading.Lock()))


def _caught_up(session: Session, job: Job, fold: Fold) -> Fold:
    return fold.take(tuple(row) for row in queries.lines_behind(session, job.id, fold.seq))


def _from_snapshot(session: Session, job: Job) -> Fold:
    fold = Fold(fits_of(job.sheet))
    kept = queries.snapshot_of(session, job.id)
    if kept is not None:
        for entry_id, seq, at, line in LINES.validate_json(zlib.decompress(kept.data)):
            fold.take_line(entry_id, seq, at, line)
    return fold


def digest_of(line: AnyLine) -> str:
    """What tells the same line sent twice from another one under its id."""
    return hashlib.sha256(f"{line.kind} {line.model_dump_json()}".encode()).hexdigest()[:32]


def append(
    session: Session,
    job: Job,
    actor: Actor,
    line: AnyLine,
    *,
    entry_id: UUID | None = None,
    at: datetime | None = None,
    settle: Callable[[AnyLine, JobLog], AnyLine] | None = None,
) -> JobLog:
    """Add a line to a job's log as someone, with its summary, and give the log as it then stands.

    Lines of one job are added one after the other. `settle` may finish the line (number its crank) or refuse it, seeing all lines
    before it. The same line under the same id is written once; another one under that id is refused: LogError.
    """
    entry_id, at = entry_id or uuid4(), at or now()
    try:
        held = queries.hold_job(session, job.id)
        if held.deleted_at is not None:
            raise LogError(f"Job {job.number} was deleted meanwhile: nothing was logged. Bring it back from the yard first.")
        fold, guard = _fold_of(session, job)
        with guard:
            log = _caught_up(session, job, fold).log
        settled = line if fold.holds(entry_id) or settle is None else settle(line, log)
        payload: dict[str, Any] = settled.model_dump(mode="json", exclude={"kind"})
        entry = LogEntry(
            id=entry_id, job_id=job.id, seq=0, at=at, kind=line.kind, payload=payload, by=actor.name, digest=digest_of(line)
        )  # fmt: skip
        seq = queries.add_line(session, entry, job.number)
        if seq is None:
            _same(queries.find_line(session, entry_id), entry)
        else:
            with guard:  # the job is held, so nothing stands between; another thread may have read this line already
                log = (fold.take([(entry_id, seq, at, line.kind, payload)]) if fold.seq < seq else fold).log
                if log.count % SNAPSHOT_EVERY == 0:
                    queries.keep_snapshot(session, job.id, seq, zlib.compress(LINES.dump_json(fold.lines()), 1))
            keep_summary(session, job, with_totals(session, job, log) if held.sent else log)
        session.commit()
    except BaseException:
        session.rollback()
        _folds.forget(_key(job))  # it may hold the line that was not kept
        raise
    return log


TAKEN = (
    "Something else was logged under this entry's number already, so this one was not. Nothing is lost: reload the page and log it again."
)


def _same(known: tuple[UUID, str], entry: LogEntry) -> None:
    job_id, digest = known
    if job_id != entry.job_id or (digest and digest != entry.digest):
        raise LogError(TAKEN)
