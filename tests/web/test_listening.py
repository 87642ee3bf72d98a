"""A connection given up while it was being opened is opened all the same, and closed: nothing half open is left behind."""

import asyncio

import psycopg
import pytest

from iron_probe.web.listening import connection_to


class Opened:
    """A connection that knows whether it was closed."""

    closed = False

    async def close(self) -> None:
        self.closed = True


def test_given_up_midway_it_is_opened_and_closed(monkeypatch: pytest.MonkeyPatch) -> None:
    async def give_up() -> list[Opened]:
        begun, gate, opened = asyncio.Event(), asyncio.Event(), list[Opened]()

        async def connect(url: str, **said: object) -> Opened:
            begun.set()
            await gate.wait()  # the server asks for the password
            opened.append(Opened())
            return opened[-1]

        monkeypatch.setattr(psycopg.AsyncConnection, "connect", connect)

        async def hold() -> None:
            async with connection_to("postgresql://nowhere"):
                pytest.fail("it was given up")

        holding = asyncio.create_task(hold())
        await begun.wait()
        holding.cancel()
        await asyncio.sleep(0)
        gate.set()
        (ended,) = await asyncio.gather(holding, return_exceptions=True)
        assert isinstance(ended, asyncio.CancelledError)
        return opened

    assert [one.closed for one in asyncio.run(give_up())] == [True]
