"""Signing in and joining, as a browser does it."""

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.web.app import create_app
from iron_probe.web.who import COOKIE
from iron_probe.work.people import owner_key
from tests.conftest import Visitor

WORDS = "four dry oak planks"


@pytest.fixture
def fresh(engine: Engine, yard: Engine, tmp_path: Path) -> Iterator[Visitor]:
    with Visitor(create_app(yard, tmp_path, accounts=True)) as client:
        with Session(yard) as session:
            client.key = owner_key(session)  # type: ignore[attr-defined]
        client.get("/sign-in")
        yield client


def test_the_owner_begins_signs_out_and_comes_back_where_they_were(fresh: Visitor) -> None:
    door = f"/join/{fresh.key}"  # type: ignore[attr-defined]
    assert "A yard of your own" in fresh.get(door).text
    page = fresh.submit(door, name="Ida Reef", password="short")
    assert fresh.last.status_code == 422 and "at least 12 characters" in page and 'value="Ida Reef"' in page
    page = fresh.submit(door, name="Ida Reef", password=WORDS)
    assert fresh.last.url.path == "/" and "Ida Reef" in page
    assert fresh.get(door).status_code == 410
    fresh.submit("/sign-out")
    assert fresh.last.url.path == "/sign-in" and fresh.get("/machines").url.path == "/sign-in"
    page = fresh.submit("/sign-in", name="Ida Reef", password="not the words", then="/machines?search=van")
    assert fresh.last.status_code == 422 and "do not go together" in page and 'value="Ida Reef"' in page and "not the words" not in page
    fresh.submit("/sign-in", name="ida reef", password=WORDS, then="/machines?search=van")
    assert fresh.last.url.path == "/machines" and fresh.last.url.query == b"search=van"


def test_a_sign_in_leads_nowhere_but_into_the_app(fresh: Visitor) -> None:
    fresh.submit(f"/join/{fresh.key}", name="Ida Reef", password=WORDS)  # type: ignore[attr-defined]
    for then in ("https://elsewhere.example/", "//elsewhere.example", "/\\elsewhere.example", "javascript:alert(1)"):
        answer = fresh.post(
            "/sign-in", data={"form_token": fresh.cookies["iron_probe_form"], "name": "Ida Reef", "password": WORDS, "then": then}, follow_redirects=False
        )  # fmt: skip
        assert answer.headers["location"] == "/"


def test_a_cookie_goes_only_over_tls_where_browsers_come_by_it(yard: Engine, tmp_path: Path) -> None:
    with Session(yard) as session:
        key = owner_key(session)
    with Visitor(create_app(yard, tmp_path, accounts=True, secure=True), base_url="https://testserver") as client:
        first = client.get("/sign-in")
        assert "Secure" in first.headers["set-cookie"] and first.headers["strict-transport-security"]
        answer = client.post(
            f"/join/{key}", data={"form_token": client.cookies["iron_probe_form"], "name": "Ida Reef", "password": WORDS}, follow_redirects=False
        )  # fmt: skip
        assert re.search(rf"{COOKIE}=[\w-]+; HttpOnly; Max-Age=2592000; Path=/; SameSite=lax; Secure", answer.headers["set-cookie"])


def test_sample_people_are_of_the_demo_alone(fresh: Visitor) -> None:
    assert "Una Skerry" not in fresh.get("/sign-in").text
    assert "this yard has accounts" in fresh.submit("/sign-in/sample", person="1") and fresh.last.status_code == 422
