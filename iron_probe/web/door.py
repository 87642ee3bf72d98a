"""What every request passes: whom it is for, a token for its forms, a limit to its waiting, safety headers on its answer."""

import asyncio
import contextlib
import time
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import Request
from starlette.responses import PlainTextResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send
from starlette.websockets import WebSocketClose

from iron_probe.web import language, local_units
from iron_probe.web.csrf import COOKIE, Tokens
from iron_probe.web.watch import answered

POLICY = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'; manifest-src 'self'"
LOOPBACK = ("127.0.0.1", "localhost", "[::1]", "testserver")
LOOKS = 2
"""Pages a process works on at once: a reading that is sent never waits behind all who look."""
GIVES_WAY_S = 2.0
"""A page that is not there after so long [s] waits for something itself, and lets the next one in."""
ANSWER_WITHIN_S = 15.0
"""An answer that has not begun after so long [s] is given up with a word to wait: the database may be frozen. Uploads are let be."""
AGAIN_S = "5"
"""A page that could not be had is asked for again by the browser after so long [s]."""
WAIT = (
    "<!doctype html><html lang=en><meta charset=utf-8><title>Wait</title><h1>Wait: no answer in time</h1>"
    "<p>The app or its database is very slow just now. {then}</p>"
)
COMES = "The page is asked for again every few seconds, by itself."
GO_BACK = "Go back: what you typed is still in the form, and sending it again writes it once."


REFUSED = 1008
"""Closing code of a websocket that may not be opened (source: RFC 6455, 7.4.1)."""


def _from_elsewhere(headers: Headers) -> bool:
    """Whether a page of another site asks."""
    origin = headers.get("origin", "")
    return bool(origin) and urlsplit(origin).netloc != headers.get("host", "")


class Door:
    """The one middleware, as plain ASGI: it costs microseconds."""

    def __init__(self, app: ASGIApp, tokens: Tokens, hosts: tuple[str, ...], secure: bool = False) -> None:
        self.app, self.tokens, self.hosts = app, tokens, (*LOOPBACK, *hosts)
        self._only_tls = "; Secure" if secure else ""
        self._looking = asyncio.Semaphore(LOOKS)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let a request in, or refuse it at the door."""
        if scope["type"] == "lifespan":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        host, foreign = headers.get("host", ""), _from_elsewhere(headers)
        name = host.rsplit(":", 1)[0] if not host.endswith("]") else host
        if scope["type"] == "websocket":
            refused = name not in self.hosts or foreign
            await (WebSocketClose(REFUSED) if refused else self.app)(scope, receive, send)
            return
        if name not in self.hosts:
            told = f"This app does not answer to the name “{host[:60]}”. Open it by its own address, or name it in IRON_PROBE_HOSTS.\n"
            await PlainTextResponse(told, status_code=421)(scope, receive, send)
            return
        if scope["method"] not in ("GET", "HEAD", "OPTIONS") and foreign:
            await PlainTextResponse("Another site may not write here. Nothing was saved.\n", status_code=403)(scope, receive, send)
            return
        asked = Request(scope)
        local_units.show_in(asked.cookies.get(local_units.COOKIE))
        language.speak(asked.cookies.get(language.COOKIE))
        token, fresh = self.tokens.of(asked)
        scope.setdefault("state", {})["csrf"] = token
        static = scope["path"].startswith("/static")
        began, arrived = asyncio.Event(), time.perf_counter()

        async def outward(message: Message) -> None:
            if message["type"] == "http.response.start":
                began.set()
                if not static:
                    route = getattr(scope.get("route"), "path", "none")
                    answered(scope["method"], route, message["status"], time.perf_counter() - arrived)
                answer = MutableHeaders(scope=message)
                answer["Content-Security-Policy"] = POLICY
                answer["X-Content-Type-Options"] = "nosniff"
                answer["Referrer-Policy"] = "same-origin"
                if not static:
                    answer.setdefault("Cache-Control", "no-store")
                if fresh and not static:
                    answer.append("Set-Cookie", f"{COOKIE}={token}; HttpOnly; Path=/; SameSite=strict{self._only_tls}")
                if message["status"] == 503 and scope["method"] == "GET" and answer.get("content-type", "").startswith("text/html"):
                    answer["Refresh"] = AGAIN_S
                if self._only_tls:
                    answer["Strict-Transport-Security"] = "max-age=31536000"
            await send(message)

        if (
            int(headers.get("content-length", "0") or 0) > 1_000_000
            or static
            or scope["path"].startswith("/api/")
            or scope["path"] == "/live"
        ):
            await self.app(scope, receive, outward)
            return
        await self._in_time(scope, receive, outward, began)

    async def _in_turn(self, scope: Scope, receive: Receive, send: Send) -> None:
        """What is sent goes first; of pages asked for, only some are worked on at once."""
        if scope["method"] not in ("GET", "HEAD"):
            await self.app(scope, receive, send)
            return
        await self._looking.acquire()
        with contextlib.ExitStack() as place:
            place.callback(self._looking.release)
            asyncio.get_running_loop().call_later(GIVES_WAY_S, place.close)
            await self.app(scope, receive, send)

    async def _in_time(self, scope: Scope, receive: Receive, outward: Send, began: asyncio.Event) -> None:
        given_up = False

        async def unless_given_up(message: Message) -> None:
            if not given_up:
                await outward(message)

        answer = asyncio.create_task(self._in_turn(scope, receive, unless_given_up))
        done, _ = await asyncio.wait({answer}, timeout=ANSWER_WITHIN_S)
        if not done and not began.is_set():
            given_up = True
            answer.add_done_callback(lambda task: task.cancelled() or task.exception())
            with contextlib.suppress(Exception):
                await _wait_page(scope["method"])(scope, receive, outward)
            return
        await answer


def _wait_page(method: str) -> PlainTextResponse:
    told = WAIT.format(then=COMES if method == "GET" else GO_BACK)
    return PlainTextResponse(told, status_code=503, media_type="text/html", headers={"Retry-After": AGAIN_S})
