"""What agents of this process say, told to every process: figures of a few hundredths of a second in one notification."""

import asyncio
import logging
from collections import deque

import psycopg

from iron_probe.store.meters import CHANNEL
from iron_probe.web.listening import connection_to
from iron_probe.work.yard_queue import plain

EVERY_S = 0.02
"""Figures wait so long for others that go with them [s]."""
MOST_BYTES = 7_900
"""PostgreSQL takes notifications of less than 8,000 bytes (source: its documentation of NOTIFY)."""
MOST_PENDING = 20_000
"""Figures that wait while the database does not answer; beyond them the oldest go, and are counted."""
AGAIN_S = 1.0


class Streams:
    """The way from this process's agents to all screens."""

    def __init__(self, url: str) -> None:
        self._url, self._pending, self._some = plain(url), deque[str](), asyncio.Event()
        self._telling: asyncio.Task[None] | None = None
        self.dropped = 0

    def put(self, job: int, said: str) -> None:
        """Have something told to the screens of a job."""
        if len(self._pending) >= MOST_PENDING:
            self._pending.popleft()
            self.dropped += 1
        self._pending.append(f"{job} {said}")
        self._some.set()
        if self._telling is None:
            self._telling = asyncio.create_task(self._tell())

    async def stop(self) -> None:
        """Tell no more."""
        if self._telling is not None:
            self._telling.cancel()
            await asyncio.gather(self._telling, return_exceptions=True)

    async def _tell(self) -> None:
        while True:
            try:
                async with connection_to(self._url) as connection:
                    while True:
                        await self._some.wait()
                        await asyncio.sleep(EVERY_S)
                        self._some.clear()
                        while self._pending:
                            told = self._packed()
                            await connection.execute("select pg_notify(%s, %s)", (CHANNEL, "\n".join(told)))
                            for _ in told:
                                self._pending.popleft()
            except psycopg.Error:
                logging.getLogger(__name__).warning("meters: the database does not answer; figures wait")
            await asyncio.sleep(AGAIN_S)

    def _packed(self) -> list[str]:
        told, size = list[str](), 0
        for line in self._pending:
            size += len(line.encode()) + 1
            if told and size > MOST_BYTES:
                break
            told.append(line)
        return told
