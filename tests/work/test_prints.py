"""Prints of a report: set once, told where they cannot be, opened by a link that is signed and can be ended."""

from datetime import timedelta
from uuid import uuid4

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import Job
from iron_probe.store.prints import ReportPrint, print_of, prints_of
from iron_probe.store.tables import now
from iron_probe.work.jobs import find_job
from iron_probe.work.prints import MOST_WAITING, OPENS_FOR, Links, ask_print, end_link, set_print


def job_of(session: Session, number: int = 101) -> Job:
    found = find_job(session, number)
    assert found is not None
    return found


def test_a_print_is_asked_once_and_set_once(yard: Engine) -> None:
    with Session(yard) as session:
        job, mine = job_of(session), uuid4()
        for _ in range(2):
            assert ask_print(session, job, mine, "<p>x</p>", "Una").waits
        pages: list[str] = []
        for _ in range(2):
            set_print(session, mine, lambda page: pages.append(page) or b"%PDF")  # type: ignore[func-returns-value]
        found = print_of(session, mine)
        assert found is not None and found.pdf == b"%PDF" and found.page is None and pages == ["<p>x</p>"]
        with pytest.raises(ReadingError, match="another job's"):
            ask_print(session, job_of(session, 102), mine, "", "Una")


def test_many_at_once_are_refused_and_one_that_fails_says_so(yard: Engine) -> None:
    with Session(yard) as session:
        job = job_of(session)
        for _ in range(MOST_WAITING):
            ask_print(session, job, uuid4(), "<p>x</p>", "Una")
        with pytest.raises(ReadingError, match="being set already"):
            ask_print(session, job, uuid4(), "<p>x</p>", "Una")

        def fails(page: str) -> bytes:
            raise ValueError(page)

        first = prints_of(session, job.id)[0]
        set_print(session, first.id, fails)
        assert "could not be set" in session.get_one(ReportPrint, first.id).failed and not session.get_one(ReportPrint, first.id).waits
        set_print(session, uuid4())  # one that is gone stops nothing


def test_a_link_opens_its_print_alone_until_it_is_ended_or_old(yard: Engine) -> None:
    links, others = Links("secret"), Links("another")
    with Session(yard) as session:
        job = job_of(session)
        made = ask_print(session, job, uuid4(), "<p>x</p>", "Una")
        word = links.of(made)
        opened = links.opened(session, word)
        assert opened is not None and opened.id == made.id
        assert (
            links.opened(session, others.of(made)) is None
            and links.opened(session, word[:-1]) is None
            and links.opened(session, "") is None
        )
        made.at = now() - OPENS_FOR - timedelta(days=1)
        session.add(made)
        session.commit()
        assert links.opened(session, word) is None
        made.at = now()
        session.add(made)
        session.commit()
        end_link(session, job, made.id)
        assert links.opened(session, word) is None
        with pytest.raises(ReadingError):
            end_link(session, job_of(session, 102), made.id)
