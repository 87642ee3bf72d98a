"""People of the yard: made by a link, given roles, ended; oneself."""

import html
import re
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import urlsplit

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.store.people import person_named
from iron_probe.web.app import create_app
from iron_probe.web.people.routes import device_of
from iron_probe.web.who import COOKIE
from iron_probe.work.people import join, owner_key, sign_in
from tests.conftest import Visitor

WORDS = "four dry oak planks"


@pytest.fixture
def lead(yard: Engine, tmp_path: Path) -> Iterator[Visitor]:
    with Visitor(create_app(yard, tmp_path, accounts=True)) as client:
        client.get("/sign-in")
        with Session(yard) as session:
            join(session, owner_key(session), "Ida Reef", WORDS)
            client.cookies.set(COOKIE, sign_in(session, "Ida Reef", WORDS, "", "the lead's own"))
        yield client


def test_somebody_joins_by_the_link_and_gets_another_role(lead: Visitor, yard: Engine, tmp_path: Path) -> None:
    page = lead.submit("/people", name="Per Sound", role="viewer")
    link = re.search(r"<code>([^<]+)</code>", page)
    assert link is not None
    with Visitor(create_app(yard, tmp_path / "b", accounts=True)) as other:
        other.get("/sign-in")
        other.submit(urlsplit(link[1]).path, password=WORDS)
        assert other.last.url.path == "/" and other.get("/people").status_code == 403
        number = re.search(r'action="/people/(\d+)/role"', lead.get("/people").text.partition("Per Sound")[2])
        assert number is not None
        lead.submit(f"/people/{number[1]}/role", role="lead")
        assert other.get("/people").status_code == 200
        lead.submit(f"/people/{number[1]}/left", back="0")
        assert "left" in lead.last.text and other.get("/machines").url.path == "/sign-in"
    trail = html.unescape(lead.get("/audit").text)
    assert all(what in trail for what in ("made viewer: Per Sound", "made lead: Per Sound", "left: Per Sound", "signed in: Ida Reef"))


def test_what_cannot_be_is_told_and_what_was_typed_stays(lead: Visitor, yard: Engine) -> None:
    page = lead.submit("/people", name="Ida Reef", role="viewer")
    assert lead.last.status_code == 422 and "already" in page and 'value="Ida Reef"' in page
    assert "A role is one of" in lead.submit("/people", name="New", role="king") and lead.last.status_code == 422
    assert lead.submit("/people/99/role", role="viewer") and lead.last.status_code == 404
    with Session(yard) as session:
        own, sample = (person_named(session, name) for name in ("Ida Reef", "Tam Holm"))
    assert own is not None and sample is not None
    for act in ("role", "left"):
        assert "Another lead" in lead.submit(f"/people/{own.number}/{act}", role="viewer")
        assert "Sample people stay" in lead.submit(f"/people/{sample.number}/{act}", role="viewer")


@pytest.mark.parametrize(
    ("browser", "words"),
    [
        ("Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Probe/156.0 Safari/537.36", "Probe on X11; Linux x86_64"),
        ("key for logger", "key for logger"),
        ("curl/8.1", "curl/8.1"),
        ("", "a browser"),
    ],
)
def test_a_browser_is_told_in_few_words(browser: str, words: str) -> None:
    assert device_of(browser) == words


def test_ones_own_sign_ins_are_listed_and_ended_and_the_password_changed(lead: Visitor, yard: Engine) -> None:
    with Session(yard) as session:
        sign_in(session, "Ida Reef", WORDS, "", "a phone in the yard")
    page = html.unescape(lead.get("/me").text)
    assert "the lead's own" in page and "a phone in the yard" in page
    phone = re.search(r"a phone in the yard.*?/me/sign-ins/([0-9a-f-]+)/end", page, re.S)
    assert phone is not None
    assert "a phone in the yard" not in lead.submit(f"/me/sign-ins/{phone[1]}/end")
    assert "is another" in lead.submit("/me/password", old="not the words", new="five wet elm boards")
    assert "is changed" in lead.submit("/me/password", old=WORDS, new="five wet elm boards")
    mine = re.search(r"/me/sign-ins/([0-9a-f-]+)/end", lead.get("/me").text)
    assert mine is not None
    lead.submit(f"/me/sign-ins/{mine[1]}/end")
    assert lead.last.url.path == "/sign-in" and lead.get("/me").url.path == "/sign-in"
