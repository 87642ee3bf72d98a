"""Agents that join over a websocket: let in by the yard's key, told what to stream, heard by every screen, their records kept."""

import json
import time
from collections.abc import Iterator
from uuid import UUID

import pytest
from sqlmodel import Session, col, select
from starlette.testclient import WebSocketTestSession
from starlette.websockets import WebSocketDisconnect

from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.messages import KEY_HEADER, PATH, Hello, Offered, Shown, Uses
from iron_probe.store.meters import MeterRow, MeterUse
from iron_probe.store.tables import Capture, InstrumentTotal
from iron_probe.work.meters import yard_key
from tests.conftest import Visitor
from tools.served import until

BENCH = Offered(name="Bench meter", address="TCPIP::192.0.2.7::5025::SOCKET", measures=(Measured.DC_VOLTS, Measured.OHMS))
CLAMP = Offered(name="Clamp", address="TCPIP::192.0.2.8::5025::SOCKET", measures=(Measured.AMPS,))
AGENT = "cart 2"


def key_of(visitor: Visitor) -> str:
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        return yard_key(session)


@pytest.fixture
def joined(visitor: Visitor) -> Iterator[WebSocketTestSession]:
    with visitor.websocket_connect(PATH, headers={KEY_HEADER: key_of(visitor)}) as link:
        link.send_text(Hello(agent=AGENT, meters=(BENCH, CLAMP)).model_dump_json())
        assert Uses.model_validate_json(link.receive_text()).uses == ()
        yield link


def do(visitor: Visitor, meter: Offered, job: int = 103, **said: str) -> str:
    return visitor.submit(f"/jobs/{job}/meters/{meter.id_of(AGENT)}", **said)


def rows(visitor: Visitor, kind: type) -> list:  # type: ignore[type-arg]
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        return list(session.exec(select(kind)))


def shown(meter: Offered, *values: float | None, first: int = 0, job: int = 103) -> str:
    at = tuple(time.time() + k / 10 for k in range(len(values)))
    return Shown(meter=meter.id_of(AGENT), job=job, first=first, at=at, values=values).model_dump_json()


@pytest.mark.parametrize("key", ["", "guessed", "ключ"])
def test_without_the_key_nobody_joins(visitor: Visitor, key: str) -> None:
    with pytest.raises(WebSocketDisconnect), visitor.websocket_connect(PATH, headers={KEY_HEADER: key.encode()} if key else {}):
        pass
    assert rows(visitor, MeterRow) == []


@pytest.mark.parametrize("words", ["", "hello", "{}", json.dumps({"agent": "", "meters": []}), "[" * 9000])
def test_an_agent_that_is_not_understood_is_let_go(visitor: Visitor, words: str) -> None:
    with visitor.websocket_connect(PATH, headers={KEY_HEADER: key_of(visitor)}) as link:
        link.send_text(words)
        with pytest.raises(WebSocketDisconnect):
            link.receive_text()
    assert visitor.get("/").status_code == 200 and rows(visitor, MeterRow) == []


def test_a_meter_is_known_while_its_agent_is_there(visitor: Visitor, joined: WebSocketTestSession) -> None:
    assert "Bench meter" in visitor.get("/meters").text and all(m.joined for m in rows(visitor, MeterRow))
    joined.close()
    until(lambda: not any(m.joined for m in rows(visitor, MeterRow)))
    assert "away since" in visitor.get("/meters").text


def test_it_is_told_what_to_stream_as_that_is_set(visitor: Visitor, joined: WebSocketTestSession) -> None:
    def told() -> tuple[Measured, float, float, int] | None:
        uses = Uses.model_validate_json(joined.receive_text()).uses
        assert all(u.job == 103 for u in uses)
        return (uses[0].measured, uses[0].factor, uses[0].zero, uses[0].reset) if uses else None

    do(visitor, BENCH, do="take", measured="dc_volts")
    assert told() == (Measured.DC_VOLTS, 1.0, 0.0, 0)
    do(visitor, BENCH, do="set", factor="100")
    assert told() == (Measured.DC_VOLTS, 100.0, 0.0, 1)
    do(visitor, BENCH, do="set", shown="0.3")
    assert told() == (Measured.DC_VOLTS, 100.0, 0.3, 2)
    do(visitor, BENCH, do="set", measured="ohms")
    assert told() == (Measured.OHMS, 100.0, 0.0, 3)
    do(visitor, BENCH, do="away")
    assert told() is None


def test_what_it_shows_reaches_the_job_s_screens_and_no_others(visitor: Visitor, joined: WebSocketTestSession) -> None:
    do(visitor, BENCH, do="take")
    joined.receive_text()
    hub = visitor.app.state.hub  # type: ignore[attr-defined]
    with hub.waiting(103) as mine, hub.waiting(102) as other, hub.waiting(0) as yard:
        joined.send_text(shown(BENCH, 12.6, 12.61))
        until(lambda: not mine.empty())
        assert json.loads(mine.get_nowait().said)["values"] == [12.6, 12.61]
        joined.send_text(shown(CLAMP, 3.0))  # in use nowhere: told to nobody
        joined.send_text(shown(BENCH, 12.7, job=102))
        joined.send_text(shown(BENCH, 12.8, first=2))
        until(lambda: not mine.empty())
        assert json.loads(mine.get_nowait().said)["values"] == [12.8]
        assert other.empty() and yard.empty()
        joined.close()
        until(lambda: not mine.empty())
        assert "lost" in json.loads(mine.get_nowait().said)["lost"]


def test_garbage_ends_the_link_and_nothing_else(visitor: Visitor, joined: WebSocketTestSession) -> None:
    do(visitor, BENCH, do="take")
    joined.receive_text()
    joined.send_text('{"meter": "the blue one"}')
    with pytest.raises(WebSocketDisconnect):
        joined.receive_text()
    assert visitor.get("/jobs/103/meters").status_code == 200


def test_a_real_meter_is_on_one_job_and_on_none_of_the_bay(visitor: Visitor, joined: WebSocketTestSession) -> None:
    do(visitor, BENCH, do="take")
    do(visitor, BENCH, job=102, do="take")
    assert [u.job_id for u in rows(visitor, MeterUse)] == [visitor.job(102).id]
    assert "Put it away" not in visitor.get("/jobs/103/meters").text


def test_a_record_becomes_a_capture_of_the_job(visitor: Visitor, joined: WebSocketTestSession) -> None:
    do(visitor, CLAMP, do="take")
    joined.receive_text()
    do(visitor, CLAMP, do="record")
    joined.receive_text()
    for k in range(40):
        joined.send_text(shown(CLAMP, 3.0 + k / 10, first=k))
        time.sleep(0.002)
    with visitor.app.state.hub.waiting(103) as heard:  # type: ignore[attr-defined]
        joined.send_text(shown(CLAMP, 7.0, None, first=40))
        until(lambda: not heard.empty())
    do(visitor, CLAMP, do="end")
    until(lambda: [c for c in rows(visitor, Capture) if c.filename == "Clamp.csv" and c.status == "reading"])
    visitor.work()
    (capture,) = [c for c in rows(visitor, Capture) if c.filename == "Clamp.csv"]
    assert capture.status == "ready" and capture.job_id == visitor.job(103).id and 41 <= capture.read_samples <= 42, capture.message
    assert capture.facts["range"][0] == [3.0, 7.0]
    assert "Clamp.csv" in visitor.get("/jobs/103/captures").text


def test_a_record_whose_agent_is_away_is_read_all_the_same(visitor: Visitor, joined: WebSocketTestSession) -> None:
    do(visitor, CLAMP, do="take")
    joined.receive_text()
    do(visitor, CLAMP, do="record")
    joined.receive_text()
    for k in range(20):
        joined.send_text(shown(CLAMP, 5.0, first=k))
    joined.close()
    until(lambda: not any(m.joined for m in rows(visitor, MeterRow)))
    do(visitor, CLAMP, do="end")
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        assert session.exec(select(Capture.status).where(col(Capture.filename) == "Clamp.csv")).one() == "reading"


def test_a_watched_drain_gets_totals(visitor: Visitor, joined: WebSocketTestSession) -> None:
    do(visitor, CLAMP, do="take")
    joined.receive_text()
    do(visitor, CLAMP, do="set", watches="1")
    joined.receive_text()
    joined.send_text(shown(CLAMP, 0.031, 0.033))
    until(lambda: rows(visitor, InstrumentTotal))
    totals = [t for t in rows(visitor, InstrumentTotal) if t.job_id == visitor.job(103).id]
    assert totals[-1].amps == pytest.approx(0.032) and totals[-1].resolution_a == 0.001


@pytest.mark.parametrize(("said", "told"), [
    ({"do": "set", "measured": "amps"}, "cannot be set to that"),
    ({"do": "set", "factor": "0"}, "none of a clamp"),
    ({"do": "set", "factor": "ten"}, "no figure"),
    ({"do": "set", "shown": "nan"}, "no figure"),
    ({"do": "set", "watches": "1"}, "Only amperes"),
    ({"do": "shout"}, "use the keys of this page"),
    ({}, "use the keys of this page"),
])  # fmt: skip
def test_what_cannot_be_set_is_told(visitor: Visitor, joined: WebSocketTestSession, said: dict[str, str], told: str) -> None:
    do(visitor, BENCH, do="take")
    assert told in do(visitor, BENCH, **said) and visitor.last.status_code == 422


def test_a_meter_nobody_has_is_refused(visitor: Visitor) -> None:
    for path in (f"/jobs/103/meters/{UUID(int=7)}", "/jobs/103/meters/blue"):
        assert visitor.post(path, data={"form_token": visitor.cookies["iron_probe_form"], "do": "take"}).status_code in (404, 422)
