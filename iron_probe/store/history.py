"""Questions about what the yard has done: jobs by their words, by who worked on them, by when, by kind of machine; what was found how often."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import ColumnElement, Integer, cast, exists, func, literal_column
from sqlmodel import Session, col, select

from iron_probe.store.tables import JobRow, JobSummary, LogEntry, MachineRow

PAGE = 40
MOST_FOUND = 12
"""Parts told of a kind of machine."""
LANGUAGE = "english"
WORDS: ColumnElement[Any] = literal_column("job_summary.words")


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
    for condition in _conditions(asked):
        query = query.where(condition)
    return [(row, complaint) for row, complaint in session.exec(query.order_by(col(JobSummary.number).desc()).limit(PAGE + 1)).all()]


def _conditions(asked: Asked) -> list[ColumnElement[bool]]:
    found: list[ColumnElement[bool]] = []
    if asked.words:
        found.append(WORDS.op("@@")(func.websearch_to_tsquery(LANGUAGE, asked.words)))
    if asked.kind:
        mine = select(MachineRow.id).where(func.lower(MachineRow.kind) == asked.kind.lower())
        found.append(col(JobRow.machine_id).in_(mine))
    if asked.person:
        found.append(exists().where(col(LogEntry.job_id) == col(JobSummary.job_id), col(LogEntry.by) == asked.person))
    if asked.part:
        found.append(col(JobSummary.facts)["parts"].op("?")(asked.part))
    if asked.since:
        found.append(col(JobSummary.last_at) >= asked.since)
    if asked.until:
        found.append(col(JobSummary.last_at) < asked.until)
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
    """On how many closed jobs of machines of a kind something was repaired and held."""
    query = select(func.count()).select_from(JobSummary).join(JobRow, col(JobRow.id) == col(JobSummary.job_id))
    return session.exec(query.join(MachineRow, col(MachineRow.id) == col(JobRow.machine_id)).where(*_held_on(kind))).one()


def _held_on(kind: str) -> tuple[ColumnElement[bool], ...]:
    """Closed here after a repair; what came as a file from another yard is not this one's."""
    repaired = col(JobSummary.facts)["ending"].astext == "repaired"
    return func.lower(MachineRow.kind) == kind.lower(), ~col(JobSummary.deleted), ~col(JobRow.brought_in), repaired


def found_on(session: Session, kind: str) -> Sequence[tuple[str, int]]:
    """What was repaired on machines of a kind and held, most often first: titles of parts, and on how many closed jobs."""
    title = func.jsonb_array_elements_text(func.coalesce(col(JobSummary.facts)["repaired"], literal_column("'[]'::jsonb"))).label("title")
    rows = (
        select(JobSummary.number, title).join(JobRow, col(JobRow.id) == col(JobSummary.job_id)).join(MachineRow, col(MachineRow.id) == col(JobRow.machine_id))
        .where(*_held_on(kind))
        .subquery()
    )  # fmt: skip
    count = cast(func.count(), Integer)
    return [
        (t, n)
        for t, n in session.execute(
            select(rows.c.title, count).group_by(rows.c.title).order_by(count.desc(), rows.c.title).limit(MOST_FOUND)
        )
    ]
