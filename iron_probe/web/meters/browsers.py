"""A meter on a serial port of somebody's browser: the page only carries questions and answers, and all else is as with any meter."""

import asyncio
import contextlib
from functools import partial
from typing import Annotated

import anyio
from fastapi import APIRouter, Query, WebSocket, WebSocketDisconnect
from pydantic import BaseModel, ConfigDict, Field, ValidationError
from starlette.concurrency import run_in_threadpool

from iron_probe.core.meters.measured import Measured
from iron_probe.core.people.rights import Right
from iron_probe.instruments.agent import Readers
from iron_probe.instruments.messages import Hello, Offered, Shown, Uses
from iron_probe.instruments.relayed import RelayedMeter
from iron_probe.instruments.scpi import InstrumentError
from iron_probe.web.door import REFUSED
from iron_probe.web.meters.agents import NOT_UNDERSTOOD, Joined, attend
from iron_probe.web.who import who_asks

PATH = "/meters/browser"
SILENT = 1000
"""Closing code where no meter answers: all went as agreed, and there is nothing to do."""
LONGEST = 1000
router = APIRouter()


class Answer(BaseModel):
    """What the meter said to a question by its number."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    number: Annotated[int, Field(ge=0)]
    said: Annotated[str, Field(max_length=400)]


@router.websocket(PATH)
async def join(socket: WebSocket, device: Annotated[str, Query(pattern=r"^[0-9a-f-]{8,40}$")]) -> None:
    """A browser of somebody who works here, on a `device` that knows itself, with a meter on a serial port of its own."""
    who = await who_asks(socket)
    if who is None or not who.person.role.may(Right.WORK):
        await socket.close(REFUSED)
        return
    await socket.accept()
    meter = RelayedMeter(partial(_send, socket, asyncio.get_running_loop()))
    hearing = asyncio.create_task(_hear(socket, meter))
    try:
        identity = (await run_in_threadpool(meter.ask, "*IDN?")).strip()[:120]
        await _work(socket, meter, hearing, Hello(agent=f"browser {device}", meters=(_offered(who.person.name, identity),)))
    except InstrumentError as error:
        with contextlib.suppress(RuntimeError):
            await socket.send_json({"wrong": str(error)})
            await socket.close(SILENT)
    finally:
        meter.leave()
        hearing.cancel()


async def _work(socket: WebSocket, meter: RelayedMeter, hearing: asyncio.Task[None], hello: Hello) -> None:
    agent = await run_in_threadpool(Joined, socket.app.state, hello)
    loop = asyncio.get_running_loop()

    def shown(one: Shown) -> None:
        with contextlib.suppress(RuntimeError):  # the app is being stopped
            loop.call_soon_threadsafe(agent.show, one, one.model_dump_json(exclude_defaults=True))

    readers = Readers({m.id_of(hello.agent): m for m in hello.meters}, shown, lambda *_: meter)
    await socket.send_json({"joined": hello.meters[0].name, "identity": hello.meters[0].identity})

    async def tell(uses: Uses) -> None:
        await run_in_threadpool(readers.read, uses.uses)

    async def until_gone() -> None:
        await hearing

    try:
        await attend(agent, tell, until_gone)
    finally:
        meter.leave()
        with anyio.CancelScope(shield=True):
            await run_in_threadpool(readers.read, ())


async def _hear(socket: WebSocket, meter: RelayedMeter) -> None:
    """Take its answers until the browser leaves, or says what is not agreed."""
    while True:
        try:
            answer = Answer.model_validate_json((await socket.receive_text())[:LONGEST])
        except WebSocketDisconnect:
            break
        except ValidationError:
            with contextlib.suppress(RuntimeError):
                await socket.close(NOT_UNDERSTOOD)
            break
        meter.heard(answer.number, answer.said)
    meter.leave()


def _send(socket: WebSocket, loop: asyncio.AbstractEventLoop, number: int, words: str) -> None:
    async def send() -> None:
        with contextlib.suppress(RuntimeError, WebSocketDisconnect):  # it left meanwhile: no answer comes, which is told
            await socket.send_json({"number": number, "ask": words})

    asyncio.run_coroutine_threadsafe(send(), loop)


def _offered(name: str, identity: str) -> Offered:
    """Which quantities it measures shows when it is asked for them: SCPI has no word for that."""
    return Offered(
        name=f"Meter at {name}'s browser"[:60], address="serial port of the browser", identity=identity, measures=tuple(Measured)
    )
