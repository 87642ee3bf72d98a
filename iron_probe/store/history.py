"""Questions about what the yard has done: jobs by their words, by who worked on them, by when, by kind of machine; what was found how often."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import ColumnElement, Integer, Subquery, cast, exists, func, literal_column
from sqlmodel import Session, col, select

from iron_probe.store.queries import gathered
from iron_probe.store.tables import JobRow, JobSummary, LogEntry, MachineRow

PAGE = 40
MOST_FOUND, NEWEST = 12, 1000
"""Parts told of a kind of machine, and how many of its newest jobs are gone through: what broke twenty years ago breaks no more."""
EVER, AFTER, MOMENT = datetime.min.replace(tzinfo=UTC), datetime.max.replace(tzinfo=UTC), timedelta(microseconds=1)
LANGUAGE = "english"
WORDS: ColumnElement[Any] = literal_column("job_summary.words")
PARTS: ColumnElement[Any] = literal_column("(job_summary.facts -> 'parts')")
"""As their indexes say them."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Asked:
    """What is looked for; empty says nothing. `words` as they are typed: several, “a phrase”, -not this; `before` the number of the last job shown."""

    words: str = ""
    kind: str = ""
    person: str = ""
    part: str = ""
    since: datetime | None = None
    until: datetime | None = None
    before: int = 0


def jobs_found(session: Session, asked: Asked) -> Sequence[tuple[JobSummary, str]]:
    """Jobs with their complaint, newest first, a page and one more where there is another."""
    query = select(JobSummary, JobRow.complaint).join(JobRow, col(JobRow.id) == col(JobSummary.job_id)).where(~col(JobSummary.deleted))
    for condition in _conditions(session, asked):
        query = query.where(condition)
    return [(row, complaint) for row, complaint in session.exec(query.order_by(col(JobSummary.number).desc()).limit(PAGE + 1)).all()]


def _conditions(session: Session, asked: Asked) -> list[ColumnElement[bool]]:
    found: list[ColumnElement[bool]] = []
    if asked.words:
        found.append(gathered(session, WORDS.op("@@")(func.websearch_to_tsquery(LANGUAGE, asked.words))))
    if asked.kind:
        found.append(col(JobSummary.kind) == asked.kind.lower())
    if asked.person:
        found.append(exists().where(col(LogEntry.job_id) == col(JobSummary.job_id), col(LogEntry.by) == asked.person))
    if asked.part:
        found.append(gathered(session, PARTS.op("?")(asked.part)))
    if asked.since or asked.until:
        found.append(gathered(session, col(JobSummary.last_at).between(asked.since or EVER, (asked.until or AFTER) - MOMENT)))
    if asked.before:
        found.append(col(JobSummary.number) < asked.before)
    return found


def kinds(session: Session) -> Sequence[str]:
    """Kinds of machines that have jobs here."""
    query = select(MachineRow.kind).where(col(MachineRow.kind) != "").distinct().order_by(MachineRow.kind).limit(200)
    return session.exec(query).all()


def hands(session: Session) -> Sequence[str]:
    """Names under which lines stand, those of the newest lines."""
    newest = select(func.coalesce(func.max(LogEntry.seq), 0) - 20_000).scalar_subquery()
    return sorted(filter(None, session.exec(select(LogEntry.by).where(col(LogEntry.seq) > newest).distinct().limit(200)).all()))


def confirmed_on(session: Session, kind: str) -> int:
    """On how many of the newest closed jobs of machines of a kind something was repaired and held."""
    return session.exec(select(func.count()).select_from(_held_on(kind))).one()


def _held_on(kind: str) -> Subquery:
    """The newest jobs of a kind that were closed here after a repair, with what was repaired; what came as a file from another yard is not this
    one's."""
    held = col(JobSummary.facts)["ending"].astext == "repaired"
    query = select(JobSummary.number, col(JobSummary.facts)["repaired"].label("repaired")).join(
        JobRow, col(JobRow.id) == col(JobSummary.job_id)
    )
    mine = query.where(col(JobSummary.kind) == kind.lower(), ~col(JobSummary.deleted), ~col(JobRow.brought_in), held)
    return mine.order_by(col(JobSummary.number).desc()).limit(NEWEST).subquery()


def found_on(session: Session, kind: str) -> Sequence[tuple[str, int]]:
    """What was repaired on machines of a kind and held, most often first: titles of parts, and on how many of the newest closed jobs."""
    held = _held_on(kind)
    title = func.jsonb_array_elements_text(func.coalesce(held.c.repaired, literal_column("'[]'::jsonb"))).label("title")
    rows = select(held.c.number, title).subquery()
    count = cast(func.count(), Integer)
    return [
        (t, n)
        for t, n in session.execute(
            select(rows.c.title, count).group_by(rows.c.title).order_by(count.desc(), rows.c.title).limit(MOST_FOUND)
        )
    ]
