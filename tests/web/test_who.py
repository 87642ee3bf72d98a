"""Every route asks who it is: nobody gets past the door, and each role only as far as it may."""

import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.people.rights import Right, Role
from iron_probe.instruments.messages import PATH as AGENTS
from iron_probe.web.app import create_app
from iron_probe.web.meters.browsers import PATH as BROWSERS
from iron_probe.web.who import COOKIE, checked, right_of
from iron_probe.work.people import add_person, join, owner_key, sign_in
from tests.conftest import Visitor

OPEN = {"/sign-in", "/sign-in/sample", "/join/{key}", "/sw.js", "/manifest.webmanifest", "/r/{word}", "/health", "/ready"}
"""What is there for whoever comes: nothing of the yard can be read or written by it."""
LEADS = {"/people", "/people/{number}/link", "/people/{number}/role", "/people/{number}/left", "/audit", "/metrics"}
ONES_OWN = {"/sign-out", "/me/password", "/me/sign-ins/{sign_in}/end"}
SOCKETS = {AGENTS, BROWSERS}
STREAMS = {"/live"}
"""What never ends once it is let in: only those it is shut to are asked here."""
WORDS = "four dry oak planks"


@pytest.fixture
def guarded(yard: Engine, tmp_path: Path) -> Iterator[Visitor]:
    """A visitor of a yard with accounts, signed in as nobody."""
    with Visitor(create_app(yard, tmp_path, accounts=True), follow_redirects=False) as client:
        client.get("/sign-in")
        yield client


@pytest.fixture
def signed_in_as(guarded: Visitor, yard: Engine) -> Callable[[Role], Visitor]:
    def come(role: Role) -> Visitor:
        with Session(yard) as session:
            key = owner_key(session)
            if key:
                join(session, key, "Ida Reef", WORDS)
            if role is Role.LEAD:
                name = "Ida Reef"
            else:
                name = f"One who is {role.value}"
                join(session, add_person(session, name, role, "Ida Reef")[1], "", WORDS)
            guarded.cookies.set(COOKIE, sign_in(session, name, WORDS, "", ""))
        return guarded

    return come


def routes_of(client: Visitor) -> Iterator[tuple[str, str, Right]]:
    """Every route of the app with its method and right, those that are open left out."""
    for route in _walk(client.app.routes):  # type: ignore[attr-defined]
        for method in sorted(route.methods - {"HEAD"}):
            if route.path not in OPEN:
                yield method, route.path, right_of(route.endpoint, method)


def _walk(routes: list[Any]) -> Iterator[Any]:
    """Routes as they are reached, those of included routers with what was hung on them there; websockets let in by themselves
    (`tests/web/meters`)."""
    for route in routes:
        if hasattr(route, "effective_route_contexts"):
            yield from (r for r in route.effective_route_contexts() if r.original_route.path not in SOCKETS)


def filled(path: str) -> str:
    """A path with something in each place: a job, machine and person of the demo have number 1."""
    return re.sub(r"\{(sign_in|[a-z_]*id|key|capture|photo)(:[a-z]+)?\}", "00000000-0000-0000-0000-000000000001", path).replace(
        "{number}", "1"
    )


def ask(client: Visitor, method: str, path: str) -> int:
    sent = {"data": {"form_token": client.cookies["iron_probe_form"]}} if method != "GET" else {}
    return client.request(method, re.sub(r"\{[^}]*\}", "x", filled(path)), **sent).status_code  # type: ignore[arg-type]


def test_every_route_hangs_on_who_asks(guarded: Visitor) -> None:
    walked = list(routes_of(guarded))
    assert len(walked) > 100
    for route in _walk(guarded.app.routes):  # type: ignore[attr-defined]
        if route.path not in OPEN:
            assert checked in {d.call for d in route.dependant.dependencies}, route.path
    assert {path for _, path, right in walked if right is Right.LEAD} == LEADS
    assert {path for method, path, right in walked if right is Right.LOOK and method != "GET"} == ONES_OWN


def test_a_stranger_is_sent_to_the_door_from_every_page_and_writes_nowhere(guarded: Visitor) -> None:
    for method, path, _ in routes_of(guarded):
        status = ask(guarded, method, path)
        assert status == (303 if method == "GET" and not path.startswith("/api/") else 401), (method, path)
    assert guarded.get("/jobs/101?red=bat.plus").headers["location"] == "/sign-in?then=%2Fjobs%2F101%3Fred%3Dbat.plus"


@pytest.mark.parametrize("role", [Role.VIEWER, Role.TECHNICIAN])
def test_each_role_is_refused_exactly_what_it_may_not(signed_in_as: Callable[[Role], Visitor], role: Role) -> None:
    client = signed_in_as(role)
    for method, path, right in routes_of(client):
        if path in ONES_OWN | STREAMS:
            continue
        status = ask(client, method, path)
        assert (status == 403) is not role.may(right), (method, path, status)
        assert status < 500, (method, path, status)


def test_a_lead_is_refused_nothing_and_lines_stand_under_ones_name(signed_in_as: Callable[[Role], Visitor]) -> None:
    client = signed_in_as(Role.LEAD)
    assert client.get("/people").status_code == client.get("/audit").status_code == 200
    client.follow_redirects = True
    page = client.submit("/jobs/101/readings", red="bat.plus", black="bat.minus", state="rest", instrument="voltmeter", value="12.5")
    assert client.last.status_code == 200, page[:300]
    assert "Ida Reef" in client.get("/audit?who=Ida+Reef").text and "job 101" in client.get("/audit?who=Ida+Reef").text
    assert client.get("/audit?who=Nobody").text.count("<td>") == 0


def test_a_program_comes_by_its_key(signed_in_as: Callable[[Role], Visitor]) -> None:
    client = signed_in_as(Role.TECHNICIAN)
    key = re.search(r"shown this once: <code>([^<]+)", client.submit("/me/key", of="logger"))
    assert key is not None
    client.cookies.delete(COOKIE)
    assert client.get("/api/v1/sheets").status_code == 401
    assert client.get("/api/v1/sheets", headers={"Authorization": f"Bearer {key[1]}"}).status_code == 200


def test_the_demo_takes_sample_people_and_refuses_a_viewer(visitor: Visitor) -> None:
    offered = re.findall(r'name="person" value="(\d+)" type="submit">([^<]+)<', visitor.get("/sign-in").text)
    assert [name for _, name in offered] == ["Una Skerry", "Tam Holm", "Office window"]
    visitor.submit("/sign-in/sample", person=offered[2][0], then="/machines")
    assert visitor.last.url.path == "/machines" and "Office window" in visitor.last.text
    assert "This needs a technician; Office window is a viewer here" in visitor.submit("/jobs/101/undo") and visitor.last.status_code == 403
    visitor.submit("/sign-in/sample", person=offered[1][0], then="//elsewhere.example")
    assert visitor.last.url.path == "/" and "Tam Holm" in visitor.last.text
