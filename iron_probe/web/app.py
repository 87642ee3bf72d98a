"""The web application: rooms, safety headers and the one place where errors become answers."""

import asyncio
import contextlib
import gc
import os
import secrets
from collections.abc import AsyncIterator
from pathlib import Path
from urllib.parse import urlencode

from anyio.to_thread import current_default_thread_limiter
from fastapi import Depends, FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, PlainTextResponse, RedirectResponse
from fastapi.staticfiles import StaticFiles
from sqlalchemy import Engine
from sqlalchemy.exc import DBAPIError, OperationalError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from sqlmodel import Session
from starlette.exceptions import HTTPException
from starlette.requests import ClientDisconnect

from iron_probe.core.errors import IronProbeError, LogError
from iron_probe.core.people.rights import Right
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.store import queries
from iron_probe.store.database import is_disk_full, looking
from iron_probe.web import link, live, watch
from iron_probe.web.api import drain as api_drain
from iron_probe.web.api import routes as api
from iron_probe.web.csrf import CsrfError, Tokens
from iron_probe.web.door import COMES, Door
from iron_probe.web.meters import agents, browsers
from iron_probe.web.meters.streams import Streams
from iron_probe.web.page import templates
from iron_probe.web.people import doorstep
from iron_probe.web.report import given
from iron_probe.web.rooms import ROOMS, SCREENS, tabs_of
from iron_probe.web.who import LOOKING, NotAllowedError, NotSignedInError, checked
from iron_probe.work import ensembles
from iron_probe.work.prints import Links
from iron_probe.work.yard_queue import Queue

STATIC = Path(__file__).parent / "static"
THREADS = 4
"""Requests worked on at once in a process: more only wait for each other."""
WAIT = "Nothing was saved. Go back: what you typed is still in the form. Try again in a moment."


def create_app(
    engine: Engine, folder: Path, *, worker: bool = False, hosts: tuple[str, ...] = (), accounts: bool = False, secure: bool = False,
    replica: Engine | None = None,
) -> FastAPI:  # fmt: skip
    """The app on a migrated database; `folder` holds what processes of this host share.

    With `accounts` nobody gets in who has not signed in; without, it is the demo, in which one takes a sample person. `secure` is that
    browsers reach it over TLS alone.

    With a `worker` beside it slow work is put on the list, ensembles among it; without, ensembles are made on a thread of this process.
    `hosts` are names it answers to beside loopback's; long questions of the past go to the `replica`, where there is one.
    """
    queue = Queue(engine.url.render_as_string(hide_password=False), folder / "ensembles")

    @contextlib.asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        current_default_thread_limiter().total_tokens = THREADS
        listening = asyncio.create_task(app.state.hub.listen())
        yield
        listening.cancel()
        await app.state.streams.stop()
        await asyncio.gather(listening, return_exceptions=True)
        queue.close()

    app = FastAPI(lifespan=lifespan, title="Iron Probe", docs_url=None, redoc_url=None, openapi_url="/api/v1/openapi.json")
    with Session(engine) as session:
        app.state.tokens = Tokens(queries.secret(session, "form", secrets.token_urlsafe(32)))
        app.state.links = Links(queries.secret(session, "report", secrets.token_urlsafe(32)))
    app.state.engine, app.state.looking = engine, looking(engine)
    app.state.past = looking(replica) if replica is not None else app.state.looking
    app.state.queue, app.state.screens, app.state.folder = queue, SCREENS, folder
    app.state.hub = live.Hub(engine.url.render_as_string(hide_password=False))
    app.state.streams = Streams(engine.url.render_as_string(hide_password=False))
    app.state.accounts, app.state.secure, app.state.samples = accounts, secure, []
    ensembles.settle(folder / "ensembles" if worker else None, queue.prepare_ensemble)
    templates.env.globals["tabs_of"] = tabs_of
    app.mount("/static", StaticFiles(directory=STATIC), name="static")
    only_who_may = [Depends(checked)]
    for room in ROOMS:
        app.include_router(room.router, include_in_schema=False, dependencies=only_who_may)
    for open_to_all in (link.router, doorstep.router, given.router, watch.router):
        app.include_router(open_to_all, include_in_schema=False)
    for answers in (api.router, api_drain.router):
        app.include_router(answers, dependencies=only_who_may)
    for machinery in (live.router, watch.guarded):
        app.include_router(machinery, include_in_schema=False, dependencies=only_who_may)
    for sockets in (agents.router, browsers.router):
        app.include_router(sockets)
    _answer_errors(app)
    _answer_strangers(app)
    app.add_middleware(Door, tokens=app.state.tokens, hosts=hosts, secure=secure)
    return app


def refuse(request: Request, status: int, heading: str, text: str) -> Response:
    """A refusal as a page, or as JSON to the API."""
    if request.url.path.startswith("/api/"):
        return JSONResponse({"error": text}, status_code=status)
    return templates.TemplateResponse(request, "shared/refusal.html", {"heading": heading, "text": text}, status_code=status)


def _answer_strangers(app: FastAPI) -> None:
    @app.exception_handler(NotSignedInError)
    async def stranger(request: Request, error: NotSignedInError) -> Response:
        if request.method in LOOKING and not request.url.path.startswith("/api/"):
            onward = request.url.path + (f"?{request.url.query}" if request.url.query else "")
            return RedirectResponse(f"/sign-in?{urlencode({'then': onward})}", status_code=303)
        told = (
            "You are not signed in any more. Nothing was saved; what you typed is still in the form: sign in beside it, then send it again."
        )
        return refuse(request, 401, "Signed out", told)

    @app.exception_handler(NotAllowedError)
    async def may_not(request: Request, error: NotAllowedError) -> Response:
        needed = "whoever leads the yard" if error.right is Right.LEAD else "a technician"
        told = f"This needs {needed}; {error.person.name} is a {error.person.role.value} here. Nothing was changed. Whoever leads the yard can give you another role."
        return refuse(request, 403, "Not yours to do", told)


def _answer_errors(app: FastAPI) -> None:
    @app.exception_handler(HTTPException)
    async def http_error(request: Request, error: HTTPException) -> Response:
        if request.url.path.startswith("/static"):
            return PlainTextResponse("not found", status_code=error.status_code)
        heading = {404: "Not here", 405: "Not this way", 410: "Deleted"}.get(error.status_code, "Refused")
        text = (
            error.detail
            if error.detail not in ("Not Found", "Method Not Allowed")
            else f"There is no page at {request.url.path}. The yard lists every job in hand."
        )
        answer = refuse(request, error.status_code, heading, text)
        answer.headers.update(error.headers or {})
        return answer

    @app.exception_handler(CsrfError)
    async def forged(request: Request, error: CsrfError) -> Response:
        return refuse(request, 403, "Form out of date", str(error))

    @app.exception_handler(IronProbeError)
    async def refused(request: Request, error: IronProbeError) -> Response:
        status = 409 if isinstance(error, LogError) else 422
        text = str(error) if request.url.path.startswith("/api/") else f"{error}. Nothing was changed.".replace("..", ".")
        return refuse(request, status, "Refused", text)

    @app.exception_handler(RequestValidationError)
    async def misshapen(request: Request, error: RequestValidationError) -> Response:
        told = "; ".join(f"{'.'.join(str(p) for p in e['loc'] if p != 'body') or 'body'}: {e['msg'].lower()}" for e in error.errors())
        if request.url.path.startswith("/api/"):
            return JSONResponse({"error": told}, status_code=422)
        return refuse(request, 404, "Not here", f"The address does not fit: {told}. The yard lists every job in hand.")

    @app.exception_handler(ClientDisconnect)
    async def gone(request: Request, error: ClientDisconnect) -> Response:
        return PlainTextResponse("gone", status_code=400)  # whoever sent it is on another page: nobody reads this

    @app.exception_handler(OSError)
    async def no_room(request: Request, error: OSError) -> Response:
        if error.errno not in (28, 122):
            raise error
        return refuse(request, 507, "The disk is full", "Nothing was saved. Free some space, then send it again; readings go on.")

    @app.exception_handler(PoolTimeout)
    @app.exception_handler(DBAPIError)
    async def database_away(request: Request, error: Exception) -> Response:
        if isinstance(error, DBAPIError) and is_disk_full(error):
            return refuse(request, 507, "The disk is full", "Nothing was saved. Free some space, then send it again.")
        if isinstance(error, DBAPIError) and not isinstance(error, OperationalError) and not error.connection_invalidated:
            raise error
        return refuse(request, 503, "Wait: the database does not answer", COMES if request.method == "GET" else WAIT)


def app_from_environment() -> FastAPI:
    """The app of one process of the house: database, folder and names to answer to come from the environment its parent gave it."""
    from iron_probe.store.database import connect  # noqa: PLC0415

    folder = Path(os.environ["IRON_PROBE_SHARED"])
    if os.environ.get("IRON_PROBE_LOG", "") == "json":
        watch.log_in_json()
    hosts = tuple(h for h in os.environ.get("IRON_PROBE_HOSTS", "").split(",") if h)
    app = create_app(
        connect(os.environ["IRON_PROBE_DATABASE_URL"]), folder, worker=True, hosts=hosts,
        accounts=os.environ.get("IRON_PROBE_ACCOUNTS", "") == "1", secure=os.environ.get("IRON_PROBE_SECURE", "") == "1",
        replica=connect(past) if (past := os.environ.get("IRON_PROBE_HISTORY_URL", "")) else None,
    )  # fmt: skip
    for name in templates.env.list_templates(extensions=["html"]):
        templates.env.get_template(name)  # compiled and read now, so that no visitor waits for it
    for sheet_id in sheet_ids():
        load_sheet(sheet_id)
    gc.freeze()  # what stands now stays: the collector need not walk it again in the middle of an answer
    gc.set_threshold(20_000, 20, 20)
    return app
