"""The yard's list of slow work: what a killed worker held is taken up again, and one failing never stops the rest."""

import asyncio
import logging
from pathlib import Path
from uuid import uuid4

import procrastinate
import pytest
from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.core.guide.step import Act, Why
from iron_probe.core.job.step import Summary
from iron_probe.store import queries
from iron_probe.store.prints import print_of
from iron_probe.work import ensembles
from iron_probe.work.history import summary_kept
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log
from iron_probe.work.prints import ask_print
from iron_probe.work.summary import keep_summary
from iron_probe.work.yard_queue import NEVER_AGAIN, OneLine, Queue, Tools, plain, take_up_stalled, tasks, work

CHARGES_TOO_HIGH = 107


@pytest.fixture
def url(yard: Engine) -> str:
    return yard.url.render_as_string(hide_password=False)


def killed_in_the_middle(yard: Engine, capture: str, attempts: int = 1) -> None:
    """What the database holds once a worker died over a capture."""
    with Session(yard) as session:
        worker = session.execute(
            text("insert into procrastinate_workers (last_heartbeat) values (now() - interval '1 hour') returning id")
        ).scalar_one()
        session.execute(
            text("update procrastinate_jobs set status = 'doing', worker_id = :w, attempts = :n where args->>'capture' = :c"),
            {"w": worker, "n": attempts, "c": capture},
        )
        session.commit()


def standing(yard: Engine, capture: str) -> list[str]:
    with Session(yard) as session:
        found = session.execute(text("select status from procrastinate_jobs where args->>'capture' = :c order by id"), {"c": capture})
        return list(found.scalars())


def look_for_stalled(yard: Engine, folder: Path) -> None:
    async def run() -> None:
        url = yard.url.render_as_string(hide_password=False)
        app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=plain(url), min_size=1, max_size=2))
        app.add_tasks_from(tasks(), namespace="yard")
        async with app.open_async():
            tools = {"tools": Tools(yard, folder)}
            never = procrastinate.JobContext(app=app, start_timestamp=0.0, job=None, abort_reason=lambda: None, additional_context=tools)  # type: ignore[arg-type]
            await take_up_stalled(never, 0)

    asyncio.run(run())


def test_what_a_killed_worker_held_goes_back_on_the_list(yard: Engine, url: str, tmp_path: Path) -> None:
    queue, capture = Queue(url, tmp_path), uuid4()
    queue.read_capture(capture)
    killed_in_the_middle(yard, str(capture))
    look_for_stalled(yard, tmp_path)
    assert standing(yard, str(capture)) == ["todo"]
    queue.close()


def test_put_on_the_list_anew_while_a_dead_worker_holds_it_it_is_read_all_the_same(yard: Engine, url: str, tmp_path: Path) -> None:
    queue, capture = Queue(url, tmp_path), uuid4()
    queue.read_capture(capture)
    killed_in_the_middle(yard, str(capture))
    queue.read_capture(capture)  # the house opens again and finds it unread
    assert standing(yard, str(capture)) == ["doing", "todo"]
    look_for_stalled(yard, tmp_path)
    assert standing(yard, str(capture)) == ["todo"]
    queue.close()


def test_a_task_that_kills_its_worker_each_time_is_given_up(yard: Engine, url: str, tmp_path: Path) -> None:
    queue, capture = Queue(url, tmp_path), uuid4()
    queue.read_capture(capture)
    killed_in_the_middle(yard, str(capture), attempts=NEVER_AGAIN)
    look_for_stalled(yard, tmp_path)
    assert standing(yard, str(capture)) == ["failed"]
    queue.close()


def test_a_database_that_is_away_is_one_line_and_what_was_not_foreseen_keeps_its_trace() -> None:
    def told(error: Exception) -> str:
        try:
            raise error
        except (KeyError, procrastinate.exceptions.ConnectorException) as raised:
            record = logging.LogRecord(
                "procrastinate.worker", logging.ERROR, "", 0, "listener error", (), (type(raised), raised, raised.__traceback__)
            )
        return OneLine().format(record)

    assert told(procrastinate.exceptions.ConnectorException()).count("\n") == 0
    assert "Traceback" in told(KeyError("x"))


def test_a_report_whose_worker_was_killed_midway_is_set_by_the_next(yard: Engine, url: str, tmp_path: Path) -> None:
    queue, print_id = Queue(url, tmp_path), uuid4()
    with Session(yard) as session:
        job = find_job(session, 101)
        assert job is not None
        ask_print(session, job, print_id, "<p>The report</p>", "Una")
    queue.set_print(print_id)
    with Session(yard) as session:
        worker = session.execute(
            text("insert into procrastinate_workers (last_heartbeat) values (now() - interval '1 hour') returning id")
        ).scalar_one()
        session.execute(text("update procrastinate_jobs set status = 'doing', worker_id = :w, attempts = 1"), {"w": worker})
        session.commit()
    look_for_stalled(yard, tmp_path)
    work(url, tmp_path, forever=False)
    with Session(yard) as session:
        found = print_of(session, print_id)
        assert found is not None and found.pdf is not None and found.pdf.startswith(b"%PDF") and not found.failed
    queue.close()


def test_asked_twice_it_is_done_once(yard: Engine, url: str, tmp_path: Path) -> None:
    queue, capture = Queue(url, tmp_path), uuid4()
    queue.read_capture(capture)
    queue.read_capture(capture)
    assert standing(yard, str(capture)) == ["todo"]
    queue.close()


def test_what_the_yard_said_of_a_job_before_its_engine_was_there_is_said_anew(yard: Engine, url: str, tmp_path: Path) -> None:
    """The job of a charging complaint: its Bench asks for a test, and so does the Yard once the worker has the engine."""

    def kept() -> Summary:
        with Session(yard) as session:
            return summary_kept(next(row for row in queries.in_hand(session) if row.number == CHARGES_TOO_HIGH))

    queue = Queue(url, tmp_path)
    with Session(yard) as session, ensembles.found_in(tmp_path, queue.prepare_ensemble):
        job = find_job(session, CHARGES_TOO_HIGH)
        assert job is not None
        keep_summary(session, job, job_log(session, job))
        session.commit()
    before = kept()
    assert before.awaits_engine and before.step.why is Why.AWAITED and before.step.asked is None
    work(url, tmp_path, forever=False)
    after = kept()
    assert not after.awaits_engine and after.step.act is Act.MEASURE and after.step.asked is not None
    with Session(yard) as session:
        assert CHARGES_TOO_HIGH not in queries.awaiting_engine(session)
    queue.close()
