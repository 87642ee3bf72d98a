"""A connection to the database for as long as a process runs, opened so that giving it up midway leaves nothing half open."""

import asyncio
import contextlib
from collections.abc import AsyncIterator

import psycopg

WITHIN_S = 5


@contextlib.asynccontextmanager
async def connection_to(url: str) -> AsyncIterator[psycopg.AsyncConnection[tuple[object, ...]]]:
    """An asynchronous connection that commits each statement. Cancelled while it is being opened it is opened and closed: a server process that
    waits for a password nobody sends holds up others, such as a database being dropped, for a minute."""
    opening = asyncio.ensure_future(psycopg.AsyncConnection.connect(url, autocommit=True, connect_timeout=WITHIN_S))
    try:
        connection = await asyncio.shield(opening)
    except asyncio.CancelledError:
        with contextlib.suppress(psycopg.Error):
            await (await opening).close()
        raise
    async with connection:
        yield connection
