"""The agent: streams what it is asked to, obeys what is set, says at once what it lost, and joins again."""

import threading
from collections.abc import Iterator
from dataclasses import dataclass, field
from http import HTTPStatus
from itertools import pairwise

import pytest
from websockets.http11 import Request, Response
from websockets.sync.server import Server, ServerConnection, serve

from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.agent import EVERY_S, Agent, NotJoinedError
from iron_probe.instruments.messages import KEY_HEADER, Hello, Offered, Shown, Use, Uses
from iron_probe.instruments.stand_in import CLAMP, MULTIMETER, Manner, StandIn, plugged_in
from tools.served import until

KEY = "the-yard's-key"


@dataclass
class Yard:
    """A yard that agents join: what they said, and a way to tell them."""

    hellos: list[Hello] = field(default_factory=list)
    shown: list[Shown] = field(default_factory=list)
    links: list[ServerConnection] = field(default_factory=list)
    uses: Uses = field(default_factory=lambda: Uses(uses=()))

    def takes(self, link: ServerConnection) -> None:
        self.links.append(link)
        self.hellos.append(Hello.model_validate_json(link.recv()))
        link.send(self.uses.model_dump_json())
        for words in link:
            self.shown.append(Shown.model_validate_json(words))

    def tell(self, *uses: Use) -> None:
        self.uses = Uses(uses=uses)
        self.links[-1].send(self.uses.model_dump_json())

    def figures(self) -> list[float | None]:
        return [v for s in self.shown for v in s.values]


def only_with_key(link: ServerConnection, request: Request) -> Response | None:
    return None if request.headers.get(KEY_HEADER) == KEY else link.respond(HTTPStatus.FORBIDDEN, "no")


@pytest.fixture
def yard() -> Iterator[tuple[Yard, Server]]:
    yard = Yard()
    with serve(yard.takes, "127.0.0.1", 0, process_request=only_with_key) as server:
        thread = threading.Thread(target=server.serve_forever, daemon=True)
        thread.start()
        yield yard, server
        server.shutdown()


def url_of(server: Server) -> str:
    return f"http://127.0.0.1:{server.socket.getsockname()[1]}"


@pytest.fixture
def stand_in() -> Iterator[tuple[StandIn, Offered]]:
    one = StandIn(MULTIMETER, lambda selected, measured: 12.6 if measured is Measured.DC_VOLTS else None)
    with plugged_in(one) as address:
        yield one, Offered(name="Bench", address=address, measures=(Measured.DC_VOLTS, Measured.OHMS))


@pytest.fixture
def agent(yard: tuple[Yard, Server], stand_in: tuple[StandIn, Offered]) -> Iterator[Agent]:
    agent = Agent(url_of(yard[1]), KEY, "cart", [stand_in[1]])
    thread = threading.Thread(target=agent.run, daemon=True)
    thread.start()
    until(lambda: yard[0].hellos)
    yield agent
    agent.stop()
    thread.join(10)
    assert not thread.is_alive()


def test_nothing_is_streamed_that_is_not_asked_for(yard: tuple[Yard, Server], stand_in: tuple[StandIn, Offered], agent: Agent) -> None:
    use = Use(meter=stand_in[1].id_of("cart"), job=7, measured=Measured.DC_VOLTS)
    assert yard[0].hellos[0].meters == (stand_in[1],)
    yard[0].tell(use, Use(meter=CLAMP_ID, job=7, measured=Measured.AMPS))
    until(lambda: len(yard[0].figures()) > 12)
    assert all(s.meter == use.meter and s.job == 7 for s in yard[0].shown)
    firsts = [s.first for s in yard[0].shown]
    assert firsts == list(range(len(firsts)))  # none lost, none doubled
    assert any(s.held == pytest.approx(12.6, abs=0.2) for s in yard[0].shown)
    yard[0].tell()
    until(lambda: not any(t.is_alive() for t in [s._thread for s in agent.readers.streams.values()] if t))


def test_a_meter_is_read_as_often_as_is_asked(yard: tuple[Yard, Server], stand_in: tuple[StandIn, Offered]) -> None:
    agent = Agent(url_of(yard[1]), KEY, "cart", [stand_in[1]], every_s=0.05)
    thread = threading.Thread(target=agent.run, daemon=True)
    thread.start()
    until(lambda: yard[0].hellos)
    yard[0].tell(Use(meter=stand_in[1].id_of("cart"), job=7, measured=Measured.DC_VOLTS))
    until(lambda: len(yard[0].figures()) > 20)
    at = [a for s in yard[0].shown for a in s.at]
    assert min(b - a for a, b in pairwise(at)) < EVERY_S - 0.02
    agent.stop()
    thread.join(10)


CLAMP_ID = Offered(name=CLAMP.name, address="nowhere", measures=(Measured.AMPS,)).id_of("cart")


def test_it_obeys_what_is_set_without_a_break(yard: tuple[Yard, Server], stand_in: tuple[StandIn, Offered], agent: Agent) -> None:
    use = Use(meter=stand_in[1].id_of("cart"), job=7, measured=Measured.DC_VOLTS)
    yard[0].tell(use)
    until(lambda: len(yard[0].figures()) > 3)
    yard[0].tell(use.model_copy(update={"factor": 10.0, "zero": 1.0, "reset": 1}))
    until(lambda: yard[0].shown[-1].least is not None and yard[0].shown[-1].least > 100)
    yard[0].tell(use.model_copy(update={"measured": Measured.OHMS, "reset": 2}))
    until(lambda: yard[0].figures()[-1] is None)  # over range
    assert [s.first for s in yard[0].shown] == list(range(len(yard[0].shown)))


def test_a_meter_that_goes_is_told_at_once_and_read_again_when_it_is_back(
    yard: tuple[Yard, Server], stand_in: tuple[StandIn, Offered], agent: Agent
) -> None:
    yard[0].tell(Use(meter=stand_in[1].id_of("cart"), job=7, measured=Measured.DC_VOLTS))
    until(lambda: yard[0].figures())
    for manner, told in ((Manner.HANGS_UP, "Nothing answers"), (Manner.GARBAGE, "no figure")):
        stand_in[0].manner = manner
        until(lambda told=told: told in yard[0].shown[-1].lost)  # type: ignore[misc]
        stand_in[0].manner = Manner.WELL
        until(lambda: yard[0].shown[-1].values)


def test_it_joins_again_and_goes_on_with_what_it_is_then_asked(
    yard: tuple[Yard, Server], stand_in: tuple[StandIn, Offered], agent: Agent
) -> None:
    yard[0].tell(Use(meter=stand_in[1].id_of("cart"), job=7, measured=Measured.DC_VOLTS))
    until(lambda: yard[0].figures())
    yard[0].links[-1].close()
    until(lambda: len(yard[0].hellos) == 2)
    seen = len(yard[0].figures())
    until(lambda: len(yard[0].figures()) > seen + 3)


def test_a_wrong_key_is_no_reason_to_knock_again(yard: tuple[Yard, Server], stand_in: tuple[StandIn, Offered]) -> None:
    with pytest.raises(NotJoinedError, match="does not take this key"):
        Agent(url_of(yard[1]), "guessed", "cart", [stand_in[1]]).run()
    assert yard[0].hellos == []


def test_what_a_yard_of_another_time_says_is_let_be(yard: tuple[Yard, Server], stand_in: tuple[StandIn, Offered], agent: Agent) -> None:
    yard[0].links[-1].send('{"weather": "fair"}')
    yard[0].tell(Use(meter=stand_in[1].id_of("cart"), job=7, measured=Measured.DC_VOLTS))
    until(lambda: yard[0].figures())
