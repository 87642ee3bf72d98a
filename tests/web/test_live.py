"""Lines told to other screens: by the database, to those who look at that job alone."""

import asyncio
from pathlib import Path
from types import SimpleNamespace
from uuid import uuid4

import pytest
from anyio.to_thread import current_default_thread_limiter
from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.core.job.job import TECHNICIAN
from iron_probe.core.job.lines import CodeLine
from iron_probe.store import queries
from iron_probe.web.app import THREADS
from iron_probe.web.live import HEARD, MOST_BEHIND, CameDue, Hub, OfMeters, Told, heard, heard_due, heard_meters, live
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append
from tests.conftest import Visitor


@pytest.mark.parametrize("payload", ["", "x", "1 2", "a 2 c", "1 2 3 4"])
def test_a_word_that_is_not_ours_is_none(payload: str) -> None:
    assert not heard(payload) and not heard_due(payload.replace("1 2 3 4", "1 x 3"))
    assert not heard_meters(payload.replace("1 2", "one 2"))


def test_a_screen_hears_of_its_job_and_the_yard_of_all() -> None:
    hub = Hub("postgresql+psycopg://nowhere/x")

    async def look() -> None:
        with hub.waiting(101) as one, hub.waiting(0) as all_:
            assert hub.streams == 2
            for told in (Told(101, 5, "a"), Told(102, 6, "b")):
                hub.tell(told)
            assert (one.qsize(), all_.qsize()) == (1, 2)
            hub.tell(CameDue(103, 7, "Bus 3: rests"))
            assert (one.qsize(), all_.qsize()) == (2, 3)
            for seq in range(2 * MOST_BEHIND):  # a screen that takes nothing holds nobody up
                hub.tell(Told(101, seq, ""))
            assert one.qsize() == MOST_BEHIND
        assert hub.streams == 0

    asyncio.run(look())


def test_what_meters_show_goes_to_the_job_s_screens_alone_and_a_reset_to_agents() -> None:
    hub, changed = Hub("postgresql+psycopg://nowhere/x"), asyncio.Event()
    assert heard_meters('7 {"a": 1}\n8 {}\n\nx y') == (OfMeters(7, '{"a": 1}'), OfMeters(8, "{}"))

    async def look() -> None:
        hub.uses_changed.add(changed)
        with hub.waiting(7) as one, hub.waiting(8) as other, hub.waiting(0) as yard:
            hub.tell(OfMeters(7, '{"a": 1}'))
            assert (one.qsize(), other.qsize(), yard.qsize()) == (1, 0, 0) and not changed.is_set()
            hub.tell(OfMeters(7, "."))
            assert one.qsize() == 1 and changed.is_set()
            hub.tell(OfMeters(8, "{}"))
            assert other.qsize() == 1

    asyncio.run(look())


def test_what_is_logged_is_heard_once_it_stands_and_after_the_database_was_away(yard: Engine) -> None:
    hub = Hub(yard.url.render_as_string(hide_password=False))

    def log() -> int:
        with Session(yard) as session:
            job = find_job(session, 101)
            assert job is not None
            return append(
                session, job, TECHNICIAN, CodeLine(code="P0562", text="system volts low", module="engine", active=True), entry_id=uuid4()
            ).seq

    def cut() -> None:
        with yard.connect() as connection:
            connection.execute(
                text("select pg_terminate_backend(pid) from pg_stat_activity where query like 'listen %' and datname = current_database()")
            )

    def listeners() -> set[int]:
        with yard.connect() as connection:
            asked = f"select pid from pg_stat_activity where query = 'listen {list(HEARD)[-1]}' and datname = current_database()"
            return set(connection.execute(text(asked)).scalars())

    async def look() -> None:
        listening, before = asyncio.create_task(hub.listen()), set[int]()
        with hub.waiting(101) as queue:
            for _ in range(2):
                while not (now := await asyncio.to_thread(listeners)) or now & before:
                    await asyncio.sleep(0.05)
                seq = await asyncio.to_thread(log)
                told = await asyncio.wait_for(queue.get(), 60)
                assert isinstance(told, Told) and (told.job, told.seq) == (101, seq)
                before = now
                await asyncio.to_thread(cut)
        listening.cancel()

    asyncio.run(look())


def test_a_page_says_up_to_which_line_it_shows(visitor: Visitor, yard: Engine, tmp_path: Path) -> None:
    with Session(yard) as session:
        of_job, of_all = queries.last_line(session, 101), queries.last_line(session, 0)
        assert queries.last_line(session, 9999) == 0
    assert f'data-live-job="101" data-live-seen="{of_job}"' in visitor.get("/jobs/101").text
    assert f'data-live-job="0" data-live-seen="{of_all}"' in visitor.get("/").text
    assert "data-live-job" not in visitor.get("/machines").text


def test_many_screens_that_come_at_once_hold_no_connection(yard: Engine) -> None:
    state = SimpleNamespace(hub=Hub("postgresql+psycopg://nowhere/x"), looking=yard)
    request = SimpleNamespace(app=SimpleNamespace(state=state))

    async def look() -> None:
        current_default_thread_limiter().total_tokens = THREADS
        at_once = yard.pool.size() + yard.pool._max_overflow + 5  # type: ignore[attr-defined]
        answers = await asyncio.wait_for(asyncio.gather(*(live(request, job=101) for _ in range(at_once))), 60)  # type: ignore[arg-type]
        assert len(answers) == at_once and yard.pool.checkedout() == 0  # type: ignore[attr-defined]

    asyncio.run(look())
