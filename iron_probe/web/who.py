"""Who asks: the person signed in, whether they may do what they ask for, and the name their lines are written under."""

from collections.abc import Callable
from contextvars import ContextVar
from typing import Annotated, Any, TypeVar
from uuid import UUID

from fastapi import Depends, Request
from sqlmodel import Session
from starlette.concurrency import run_in_threadpool
from starlette.requests import HTTPConnection

from iron_probe.core.job.job import TECHNICIAN, Actor
from iron_probe.core.people.rights import Right, Role
from iron_probe.store import people
from iron_probe.store.people import Person
from iron_probe.work.people import AtWork, at_work

COOKIE, SAMPLE_COOKIE = "iron_probe_sign_in", "iron_probe_person"
"""What a browser keeps of a sign-in; and in the demo, the number of the sample person it took."""
NOBODY = AtWork(Person(id=UUID(int=0), number=0, name=TECHNICIAN.name, role=Role.LEAD), None)
"""Whoever sits at a yard on loopback that has neither accounts nor sample people."""
LOOKING = ("GET", "HEAD", "OPTIONS")

_Route = TypeVar("_Route", bound=Callable[..., Any])
_who: ContextVar[AtWork] = ContextVar("who", default=NOBODY)


class NotSignedInError(Exception):
    """Nobody is signed in here."""


class NotAllowedError(Exception):
    """Whoever is signed in has not the right to this."""

    def __init__(self, person: Person, right: Right) -> None:
        super().__init__()
        self.person, self.right = person, right


def whoever() -> Actor:
    """Whoever asks, as the hand that puts a line down."""
    return Actor(_who.get().person.name)


def needs(right: Right) -> Callable[[_Route], _Route]:
    """Mark a route with the right it needs, where that is not to look by asking and to work by sending."""

    def mark(endpoint: _Route) -> _Route:
        endpoint.right = right  # type: ignore[attr-defined]
        return endpoint

    return mark


def right_of(endpoint: Callable[..., Any], method: str) -> Right:
    """The right that a route needs."""
    return getattr(endpoint, "right", Right.LOOK if method in LOOKING else Right.WORK)


async def checked(request: Request) -> AtWork:
    """Who asks, once it is sure that they may; raises NotSignedInError or NotAllowedError. Every router but the doorstep's hangs on it."""
    found = await who_asks(request)
    if found is None:
        raise NotSignedInError
    right = right_of(request.scope["route"].endpoint, request.method)
    if not found.person.role.may(right):
        raise NotAllowedError(found.person, right)
    request.state.who = found
    _who.set(found)
    return found


async def who_asks(connection: HTTPConnection) -> AtWork | None:
    """Whoever asks for a page or opens a websocket; None where nobody is signed in there."""
    return await run_in_threadpool(_found, connection) if connection.app.state.accounts else await _sample(connection)


Who = Annotated[AtWork, Depends(checked)]


def _found(connection: HTTPConnection) -> AtWork | None:
    kind, _, key = connection.headers.get("authorization", "").partition(" ")
    token = key.strip() if kind.lower() == "bearer" else connection.cookies.get(COOKIE, "")
    with Session(connection.app.state.looking) as session:
        found = at_work(session, token[:200])
        session.expunge_all()  # who it is outlives the question
    return found


async def _sample(connection: HTTPConnection) -> AtWork:
    """The sample person this browser took, the demo's lead where it took none."""
    offered, taken = await run_in_threadpool(samples_of, connection), connection.cookies.get(SAMPLE_COOKIE, "")
    chosen = [p for p in offered if str(p.number) == taken] or offered
    return AtWork(chosen[0], None) if chosen else NOBODY


def samples_of(connection: HTTPConnection) -> list[Person]:
    """The demo's people, its lead first, asked for once in a process."""
    state = connection.app.state
    if not state.samples:
        with Session(state.looking) as session:
            state.samples = list(people.samples(session))
            session.expunge_all()
    return list(state.samples)
