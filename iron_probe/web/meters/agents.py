"""Where agents join the yard: one websocket each, over which they are told what to stream and say what their meters show."""

import asyncio
import contextlib
import logging
import secrets
import time
from collections.abc import Awaitable, Callable
from datetime import datetime
from uuid import UUID

import anyio
from fastapi import APIRouter, WebSocket, WebSocketDisconnect
from pydantic import ValidationError
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError
from sqlmodel import Session
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import State

from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.messages import KEY_HEADER, LONGEST, PATH, Hello, Shown, Uses
from iron_probe.store import meters
from iron_probe.web.door import REFUSED
from iron_probe.work import meters as work
from iron_probe.work.meter_records import Keeper, to_be_read

router = APIRouter()
NOT_UNDERSTOOD = 1007
"""Closing code of a websocket where data is not as agreed (source: RFC 6455, 7.4.1)."""
LOOKS_S = 1.0
"""What is kept of streams is looked after this often [s]."""

log = logging.getLogger(__name__)
Key = tuple[UUID, int]


@router.websocket(PATH)
async def join(socket: WebSocket) -> None:
    """An agent with the yard's key: its meters are known from here on, and what they show goes to whoever looks."""
    key = await run_in_threadpool(_key, socket)
    if not secrets.compare_digest(socket.headers.get(KEY_HEADER, "").encode(), key.encode()):
        await socket.close(REFUSED)
        return
    await socket.accept()
    try:
        hello = Hello.model_validate_json((await socket.receive_text())[: LONGEST * 8])
    except (ValidationError, WebSocketDisconnect):
        await socket.close(NOT_UNDERSTOOD)
        return
    agent = await run_in_threadpool(Joined, socket.app.state, hello)

    async def tell(uses: Uses) -> None:
        await socket.send_text(uses.model_dump_json())

    async def hear() -> None:
        while True:
            words = (await socket.receive_text())[:LONGEST]
            agent.show(Shown.model_validate_json(words), words)

    try:
        await attend(agent, tell, hear)
    except ValidationError as error:
        log.warning("agent %s says what is not understood: %s", hello.agent, error.errors()[0]["msg"])
        with contextlib.suppress(RuntimeError):
            await socket.close(NOT_UNDERSTOOD)


async def attend(agent: "Joined", tell: Callable[[Uses], Awaitable[None]], hear: Callable[[], Awaitable[None]]) -> None:
    """Tell an agent what its meters are used for and `hear` what they show until it leaves; then say so on the screens, and write what is left."""
    changed = asyncio.Event()
    changed.set()
    hub = agent.state.hub
    hub.uses_changed.add(changed)
    beside = asyncio.gather(agent.obey(changed, tell), agent.keep())
    try:
        await hear()
    except WebSocketDisconnect:
        pass
    finally:
        hub.uses_changed.discard(changed)
        beside.cancel()
        with contextlib.suppress(asyncio.CancelledError, SQLAlchemyError, RuntimeError, WebSocketDisconnect):
            await beside
        agent.lost()
        with contextlib.suppress(SQLAlchemyError), anyio.CancelScope(shield=True):  # also where the app itself is being stopped
            await run_in_threadpool(agent.leave)


class Joined:
    """An agent that has joined this process."""

    def __init__(self, state: State, hello: Hello) -> None:
        self.state, self._hello = state, hello
        self._joined_at = _arrived(state.engine, hello)
        self._keepers: dict[Key, Keeper] = {}
        self._ended: list[tuple[Key, UUID]] = []

    async def obey(self, changed: asyncio.Event, tell: Callable[[Uses], Awaitable[None]]) -> None:
        """Tell it what its meters are used for, and again whenever that changes."""
        while True:
            await changed.wait()
            changed.clear()
            try:
                uses = await run_in_threadpool(self._uses)
            except SQLAlchemyError:
                changed.set()
                await asyncio.sleep(LOOKS_S)
                continue
            await tell(uses)

    def show(self, shown: Shown, words: str) -> None:
        """Pass on what a meter shows, as `words` have it; one that was put away a moment ago is heard by nobody."""
        keeper = self._keepers.get((shown.meter, shown.job))
        if keeper is not None:
            self.state.streams.put(shown.job, words)
            keeper.take(shown)

    async def keep(self) -> None:
        """Write down what is recorded and watched."""
        while True:
            await asyncio.sleep(LOOKS_S)
            due = [k for k in self._keepers.values() if k.is_due(time.monotonic())]
            if due:
                with contextlib.suppress(SQLAlchemyError):  # the database is away: it is written when it is back
                    await run_in_threadpool(self._write, due)

    def lost(self) -> None:
        """Say on the screens that its meters show nothing any more."""
        for meter, job in self._keepers:
            told = Shown(meter=meter, job=job, lost="The link to the meter's agent is lost; it joins again by itself")
            self.state.streams.put(job, told.model_dump_json(exclude_defaults=True))

    def leave(self) -> None:
        """Write what is left, and note that it went."""
        self._write(list(self._keepers.values()))
        with Session(self.state.engine) as session:
            meters.leave(session, self._hello.agent, self._joined_at)

    def _uses(self) -> Uses:
        with Session(self.state.engine) as session:
            uses, rows = work.wanted_of(session, self._hello.agent)
            keepers = dict[Key, Keeper]()
            for key, (use, meter) in rows.items():
                keepers[key] = self._keepers.get(key) or Keeper(key[1], Measured(use.measured), meter.four_wire)
                if ended := keepers[key].set_as(use):
                    self._ended.append((key, ended))
            self._ended += [(key, k.capture) for key, k in self._keepers.items() if key not in keepers and k.capture is not None]
            gone = {key: k for key, k in self._keepers.items() if key not in keepers}
            self._keepers = keepers
            self._finish(session, gone)
        return uses

    def _write(self, due: list[Keeper]) -> None:
        with Session(self.state.engine) as session:
            for keeper in due:
                keeper.write(session, time.monotonic())

    def _finish(self, session: Session, gone: dict[Key, Keeper]) -> None:
        """Have records that ended read."""
        for key, capture in self._ended:
            keeper = gone.get(key) or self._keepers.get(key)
            if keeper is not None:
                keeper.write(session, time.monotonic(), last=capture)
            if to_be_read(session, capture):
                self.state.queue.read_capture(capture)
        self._ended = []


def _key(socket: WebSocket) -> str:
    with Session(socket.app.state.engine) as session:
        return work.yard_key(session)


def _arrived(engine: Engine, hello: Hello) -> datetime:
    with Session(engine) as session:
        return work.arrived(session, hello)
