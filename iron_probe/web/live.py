"""What others log, told to every screen that shows it: one listening connection to the database a process, one stream a screen."""

import asyncio
import contextlib
import json
import logging
from collections.abc import AsyncIterator, Callable, Iterator
from dataclasses import asdict, dataclass

import psycopg
from fastapi import APIRouter, HTTPException, Request, Response
from sqlmodel import Session
from sse_starlette import EventSourceResponse, ServerSentEvent
from starlette.concurrency import run_in_threadpool

from iron_probe.store import queries
from iron_probe.store.meters import CHANGED, CHANNEL, RESET, are_used
from iron_probe.web.listening import connection_to
from iron_probe.work.yard_queue import plain

router = APIRouter()
PATH = "/live"
AGAIN_S = 1.0
"""How long after a lost connection to the database another is tried [s]."""
MOST_STREAMS = 400
"""Screens a process tells at once; another one is told to ask again later, and shows what is new when it is loaded."""
MOST_BEHIND = 50
"""Lines that wait for a screen that does not take them: beyond them it is told once to look for itself."""
PING_S = 15


@dataclass(frozen=True, slots=True)
class Told:
    """A line was put down: on which job, its place among all lines, its id."""

    job: int
    seq: int
    entry: str


@dataclass(frozen=True, slots=True)
class OfMeters:
    """What meters on a job show, as their agent said it, or that other meters are used there."""

    job: int
    said: str


@dataclass(frozen=True, slots=True)
class CameDue:
    """A wait came due: on which job, until when [s since 1970], which machine waits for what."""

    job: int
    until: int
    what: str


Heard = Told | CameDue | OfMeters


class Hub:
    """The screens of a process that wait for lines."""

    def __init__(self, url: str) -> None:
        self._url, self._waiting = plain(url), dict[int, set[asyncio.Queue[Heard]]]()
        self.uses_changed: set[asyncio.Event] = set()
        """Set when meters are used otherwise than before: for agents of this process to look."""

    @property
    def streams(self) -> int:
        """Screens that are told now."""
        return sum(map(len, self._waiting.values()))

    @contextlib.contextmanager
    def waiting(self, job: int) -> Iterator[asyncio.Queue[Heard]]:
        """A queue of what is put down on a job; on any where it is 0."""
        mine: asyncio.Queue[Heard] = asyncio.Queue(MOST_BEHIND)
        self._waiting.setdefault(job, set()).add(mine)
        try:
            yield mine
        finally:
            self._waiting[job].discard(mine)
            if not self._waiting[job]:
                del self._waiting[job]

    def tell(self, told: Heard) -> None:
        """Put a line into every queue that waits for its job, a wait that came due into all; what meters show goes to the job's own screens. One
        that is full has enough to look for itself."""
        if isinstance(told, OfMeters) and told.said in (CHANGED, RESET):
            for event in self.uses_changed:
                event.set()
            if told.said == RESET:
                return
        every = self._waiting if isinstance(told, CameDue) else (told.job,) if isinstance(told, OfMeters) else {0, told.job}
        for job in every:
            for queue in self._waiting.get(job, ()):
                if not queue.full():
                    queue.put_nowait(told)

    async def listen(self) -> None:
        """Hear the database, and hear it again when it was away, until cancelled."""
        while True:
            try:
                async with connection_to(self._url) as connection:
                    for channel in HEARD:
                        await connection.execute(f"listen {channel}")
                    async for note in connection.notifies():
                        for told in HEARD[note.channel](note.payload):
                            self.tell(told)
            except psycopg.Error:
                logging.getLogger(__name__).warning("live screens: the database does not answer; it is asked again")
            await asyncio.sleep(AGAIN_S)


def heard(payload: str) -> tuple[Told, ...]:
    """What a notification says; nothing of one that is not ours."""
    try:
        job, seq, entry = payload.split(" ")
        return (Told(int(job), int(seq), entry),)
    except ValueError:
        return ()


def heard_due(payload: str) -> tuple[CameDue, ...]:
    """What a notification of a wait says; nothing of one that is not ours."""
    number, _, rest = payload.partition(" ")
    until, _, what = rest.partition(" ")
    return (CameDue(int(number), int(until), what),) if number.isdecimal() and until.isdecimal() and what else ()


def heard_meters(payload: str) -> tuple[OfMeters, ...]:
    """What a notification says of meters, a line each; nothing of those that are not ours."""
    parts = (line.partition(" ") for line in payload.split("\n"))
    return tuple(OfMeters(int(number), said) for number, _, said in parts if number.isdecimal() and said)


HEARD: dict[str, Callable[[str], tuple[Heard, ...]]] = {
    queries.LINE_CHANNEL: heard, queries.DUE_CHANNEL: heard_due, CHANNEL: heard_meters,
}  # fmt: skip


@router.get(PATH)
async def live(request: Request, job: int = 0) -> Response:
    """Lines of a job as they are put down, or of the whole yard; first where its log stands now, so that nothing logged meanwhile is missed."""
    hub: Hub = request.app.state.hub
    if hub.streams >= MOST_STREAMS:
        raise HTTPException(
            503, "Too many screens look at once: this one is brought up to date when it is loaded", headers={"Retry-After": "30"}
        )

    def stands() -> tuple[int, bool]:  # asked and given back in one turn: many screens that come at once would else hold all connections
        with Session(request.app.state.looking) as session:
            return queries.last_line(session, job), bool(job) and are_used(session, job)

    seq, metered = await run_in_threadpool(stands)
    return EventSourceResponse(_lines(hub, job, seq, metered=metered), ping=PING_S)


async def _lines(hub: Hub, job: int, seq: int, *, metered: bool) -> AsyncIterator[ServerSentEvent]:
    with hub.waiting(job) as queue:
        yield _event(Told(job, seq, ""))
        if metered:
            yield _event(OfMeters(job, CHANGED))
        while True:
            yield _event(await queue.get())


def _event(told: Heard) -> ServerSentEvent:
    if isinstance(told, OfMeters):
        return ServerSentEvent(told.said, event="meter", retry=2000)
    return ServerSentEvent(json.dumps(asdict(told)), event="line" if isinstance(told, Told) else "due", retry=2000)
