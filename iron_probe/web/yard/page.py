"""What the Yard shows: a page of jobs with their summaries, behind a keyset cursor."""

import base64
import binascii
import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from sqlmodel import Session

from iron_probe.core.job.day import InHand, Stretch, fitting, stretches
from iron_probe.core.job.step import Summary
from iron_probe.store import queries
from iron_probe.store.queries import PAGE, Sort
from iron_probe.store.tables import JobSummary, now
from iron_probe.work.history import summary_kept

LONGEST_SEARCH = 80
AT_WORK = timedelta(minutes=30)
"""Since a line was put down a job counts as in the hand that did it."""
MOST_OFFERED = 6


@dataclass(frozen=True, slots=True, kw_only=True)
class YardRow:
    """One job as the yard shows it."""

    number: int
    machine: str
    closed: bool
    last_at: datetime
    summary: Summary

    @staticmethod
    def of(row: JobSummary) -> "YardRow":
        """A row as kept; one whose summary cannot be read says so."""
        return YardRow(number=row.number, machine=row.machine, closed=row.closed, last_at=row.last_at, summary=summary_kept(row))


@dataclass(frozen=True, slots=True, kw_only=True)
class YardPage:
    """A page of the Yard; `after` leads to the next one, `deleted` is the number of a job just deleted, `last_line` the
    place of the newest line of all logs as it was looked up."""

    rows: tuple[YardRow, ...]
    sort: Sort
    search: str
    first: bool
    after: str
    deleted: int
    last_line: int
    now: datetime
    day: tuple[Stretch, ...]
    hands: dict[int, str]
    minutes: float | None
    fits: tuple[tuple[InHand, float], ...]


def yard_page(session: Session, sort: str, after: str, search: str, deleted: int, minutes: float | None = None, me: str = "") -> YardPage:
    """Gather a page; an order or a cursor that is none begins at the top. With `minutes` what fits into them for `me`."""
    order = Sort(sort) if sort in set(Sort) else Sort.STATE
    search = search.replace("\x00", "").strip()[:LONGEST_SEARCH]
    cursor = _cursor(order, after)
    last_line = queries.last_line(session, 0)
    rows = queries.yard_page(session, order, cursor, search)
    more = _after(order, rows[PAGE - 1]) if len(rows) > PAGE else ""
    at = now()
    hands = queries.hands_at_work(session, at - AT_WORK)
    waiting = waiting_jobs(session, hands)
    fits = () if minutes is None else fitting([_in_hand(r, hands) for r in queries.in_hand(session)], minutes, at, me)[:MOST_OFFERED]
    return YardPage(
        rows=tuple(YardRow.of(r) for r in rows[:PAGE]),
        sort=order,
        search=search,
        first=not cursor,
        after=more,
        deleted=deleted,
        last_line=last_line,
        now=at,
        day=stretches(waiting, at),
        hands=hands,
        minutes=minutes,
        fits=fits,
    )


def waiting_jobs(session: Session, hands: dict[int, str] | None = None) -> list[InHand]:
    """Jobs in hand that wait for something."""
    return [_in_hand(row, hands or {}) for row in queries.in_hand(session, waiting=True)]


def _in_hand(row: JobSummary, hands: dict[int, str]) -> InHand:
    summary = summary_kept(row)
    return InHand(
        number=row.number, machine=row.machine, page=summary.page, step=summary.step, waits=summary.waits, last_at=row.last_at,
        hand=hands.get(row.number, ""),
    )  # fmt: skip


def _after(order: Sort, row: JobSummary) -> str:
    keys: dict[Sort, list[Any]] = {
        Sort.STATE: [row.closed, row.number],
        Sort.MACHINE: [row.machine.lower(), row.number],
        Sort.LAST: [row.last_at.isoformat(), row.number],
        Sort.NUMBER: [row.number],
    }
    return base64.urlsafe_b64encode(json.dumps(keys[order]).encode()).decode()


def _cursor(order: Sort, after: str) -> Sequence[Any]:
    """The key a cursor stands for; empty for none or a broken one."""
    if not after:
        return ()
    try:
        key = json.loads(base64.urlsafe_b64decode(after.encode()))
        number = key[-1]
        if not isinstance(number, int) or abs(number) >= 2**62:
            return ()
        if order is Sort.LAST:
            return (datetime.fromisoformat(key[0]), number)
        if order is Sort.NUMBER:
            return (number,)
        fits = isinstance(key[0], bool) if order is Sort.STATE else isinstance(key[0], str) and "\x00" not in key[0]
        return (key[0], number) if fits else ()
    except (ValueError, TypeError, IndexError, KeyError, binascii.Error, UnicodeError):
        return ()
