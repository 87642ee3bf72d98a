"""What every request passes at the door."""

import asyncio

import pytest
from starlette.testclient import TestClient
from starlette.types import Receive, Scope, Send

from iron_probe.web import door
from iron_probe.web.csrf import Tokens
from iron_probe.web.door import Door
from tests.conftest import Visitor


async def slow(scope: Scope, receive: Receive, send: Send) -> None:
    await asyncio.sleep(30)


def test_an_answer_that_does_not_begin_is_given_up_with_a_word(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(door, "ANSWER_WITHIN_S", 0.05)
    client = TestClient(Door(slow, Tokens("s"), ()))
    looked, sent = client.get("/"), client.post("/")
    assert looked.status_code == sent.status_code == 503
    assert "asked for again" in looked.text and looked.headers["Refresh"]
    assert "what you typed is still in the form" in sent.text and "Refresh" not in sent.headers


def test_what_is_sent_is_let_in_past_those_who_look() -> None:
    inside: list[str] = []

    async def many() -> None:
        freed = asyncio.Event()

        async def app(scope: Scope, receive: Receive, send: Send) -> None:
            inside.append(scope["method"])
            await freed.wait()

        async def nothing(*_: object) -> None: ...

        def asked(method: str) -> Scope:
            return {"type": "http", "method": method, "path": "/", "query_string": b"", "headers": [(b"host", b"localhost")]}

        house = Door(app, Tokens("s"), ())
        waiting = [asyncio.create_task(house(asked("GET"), nothing, nothing)) for _ in range(door.LOOKS + 3)]  # type: ignore[arg-type]
        waiting.append(asyncio.create_task(house(asked("POST"), nothing, nothing)))  # type: ignore[arg-type]
        while "POST" not in inside:
            await asyncio.sleep(0)
        assert inside.count("GET") == door.LOOKS
        freed.set()
        await asyncio.gather(*waiting)

    asyncio.run(many())
    assert len(inside) == door.LOOKS + 4


def test_pages_that_wait_hold_nobody_up(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(door, "GIVES_WAY_S", 0.0)
    inside: list[str] = []

    async def many() -> None:
        freed, scope = (
            asyncio.Event(),
            {"type": "http", "method": "GET", "path": "/", "query_string": b"", "headers": [(b"host", b"localhost")]},
        )

        async def app(scope: Scope, receive: Receive, send: Send) -> None:
            inside.append(scope["method"])
            await freed.wait()

        async def nothing(*_: object) -> None: ...

        house = Door(app, Tokens("s"), ())
        waiting = [asyncio.create_task(house(scope, nothing, nothing)) for _ in range(3 * door.LOOKS)]  # type: ignore[arg-type]
        while len(inside) < 3 * door.LOOKS:
            await asyncio.sleep(0)
        freed.set()
        await asyncio.gather(*waiting)
        assert house._looking._value == door.LOOKS

    asyncio.run(many())


@pytest.mark.parametrize(("host", "status"), [("evil.example", 421), ("127.0.0.1:8420", 200), ("[::1]:8420", 200), ("localhost", 200)])
def test_it_answers_to_its_own_names_only(visitor: Visitor, host: str, status: int) -> None:
    assert visitor.get("/", headers={"host": host}).status_code == status


def test_another_site_may_not_write(visitor: Visitor) -> None:
    form = {"form_token": visitor.cookies["iron_probe_form"]}
    assert visitor.post("/jobs/102/undo", data=form, headers={"origin": "http://evil.example"}).status_code == 403
    assert visitor.post("/jobs/102/undo", data=form, headers={"origin": "http://testserver"}, follow_redirects=False).status_code == 303


def test_answers_carry_the_policy_and_are_not_kept_by_others(visitor: Visitor) -> None:
    headers = visitor.get("/").headers
    assert "default-src 'none'" in headers["content-security-policy"] and headers["cache-control"] == "no-store"
