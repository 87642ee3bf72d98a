"""A meter on a serial port of a browser: let in as its person is, asked by the app, its figures on the job's screens."""

import json
from pathlib import Path

import pytest
from sqlalchemy import Engine
from sqlmodel import Session, select
from starlette.testclient import WebSocketTestSession
from starlette.websockets import WebSocketDisconnect

from iron_probe.core.people.rights import Right
from iron_probe.instruments.messages import KEY_HEADER
from iron_probe.instruments.messages import PATH as AGENTS
from iron_probe.store import people
from iron_probe.store.meters import MeterRow
from iron_probe.store.people import Person
from iron_probe.web.app import create_app
from iron_probe.web.meters.browsers import PATH
from iron_probe.web.who import SAMPLE_COOKIE
from tests.conftest import Visitor
from tools.served import until

HERE = f"{PATH}?device=0b1c2d3e-0000-4000-8000-00000000000a"


def meters(visitor: Visitor) -> list[MeterRow]:
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        return list(session.exec(select(MeterRow)))


def answer(link: WebSocketTestSession, said: str) -> str:
    """Answer the next question with that; the question."""
    asked = json.loads(link.receive_text())
    link.send_text(json.dumps({"number": asked["number"], "said": said}))
    return str(asked["ask"])


def test_it_is_asked_what_it_is_taken_and_read(visitor: Visitor) -> None:
    with visitor.websocket_connect(HERE) as link:
        assert answer(link, "Quay,Serial meter,7,1") == "*IDN?"
        assert "Serial meter" in json.loads(link.receive_text())["identity"]
        (row,) = meters(visitor)
        assert row.joined and not row.stand_in
        hub = visitor.app.state.hub  # type: ignore[attr-defined]
        with hub.waiting(103) as screen:
            visitor.submit(f"/jobs/103/meters/{row.id}", do="take", measured="dc_volts")
            assert answer(link, "12.61") == "MEAS:VOLT:DC?"
            told: list[dict[str, object]] = []

            def is_shown() -> bool:
                told.extend(json.loads(screen.get_nowait().said) for _ in range(screen.qsize()))
                return any(t.get("values") == [12.61] for t in told)

            until(is_shown)
    until(lambda: not any(m.joined for m in meters(visitor)))


@pytest.mark.parametrize("words", ["", "{}", '{"number": -1, "said": ""}', "[" * 2000])
def test_a_page_that_says_what_is_not_agreed_is_let_go(visitor: Visitor, words: str) -> None:
    with visitor.websocket_connect(HERE) as link:
        link.receive_text()
        link.send_text(words)
        with pytest.raises(WebSocketDisconnect):
            while True:
                link.receive_text()
    assert meters(visitor) == []


@pytest.mark.parametrize("path", [HERE, AGENTS])
def test_pages_of_other_sites_and_other_names_open_no_socket(visitor: Visitor, path: str) -> None:
    for headers in ({"origin": "http://elsewhere.example"}, {"host": "elsewhere.example"}):
        with pytest.raises(WebSocketDisconnect), visitor.websocket_connect(path, headers=headers | {KEY_HEADER: "x"}):
            pass
    assert meters(visitor) == []


def test_nobody_who_is_not_signed_in_or_only_looks_brings_a_meter(yard: Engine, tmp_path: Path) -> None:
    with (
        Visitor(create_app(yard, tmp_path, accounts=True)) as stranger,
        pytest.raises(WebSocketDisconnect),
        stranger.websocket_connect(HERE),
    ):
        pass
    with Visitor(create_app(yard, tmp_path)) as visitor:
        looker = next(p for p in samples(visitor) if not p.role.may(Right.WORK))
        visitor.cookies.set(SAMPLE_COOKIE, str(looker.number))
        with pytest.raises(WebSocketDisconnect), visitor.websocket_connect(HERE):
            pass


def samples(visitor: Visitor) -> list[Person]:
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        return list(people.samples(session))


@pytest.mark.parametrize("device", ["", "x", "../../etc", "a" * 80])
def test_a_device_that_does_not_know_itself_is_let_go(visitor: Visitor, device: str) -> None:
    with pytest.raises(WebSocketDisconnect), visitor.websocket_connect(f"{PATH}?device={device}"):
        pass
    assert meters(visitor) == []
