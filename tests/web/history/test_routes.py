"""What the yard has done, found by words, part, person, kind and day."""

import html
import re
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine

from iron_probe.core.compose.edits import types_where
from iron_probe.store.database import connect
from iron_probe.web.app import create_app
from iron_probe.web.history.routes import PARTS
from tests.conftest import Visitor


def numbers(page: str) -> set[int]:
    return {int(n) for n in re.findall(r'href="/jobs/(\d+)/report"', page)}


def test_a_job_is_found_by_what_was_said_and_by_what_was_done(visitor: Visitor) -> None:
    everything = numbers(visitor.get("/history").text)
    assert len(everything) > 8
    for words in ("groan", "groaned wet", "rust eyelet", "“ground stud”", '"sealed washer" or Locker'):
        found = numbers(visitor.get("/history", params={"words": words}).text)
        assert 101 in found and found < everything, words
    assert 101 not in numbers(visitor.get("/history", params={"words": "groan -rust"}).text)
    assert "No job has that" in visitor.get("/history", params={"words": "zeppelin"}).text
    for odd in ("'; drop table job; --", "%_\\", "& | ! ( )", "\x00"):
        assert visitor.get("/history", params={"words": odd}).status_code == 200


def test_every_type_of_part_may_be_looked_for() -> None:
    assert set(PARTS) == types_where(lambda element: True)


def test_by_part_person_and_day(visitor: Visitor) -> None:
    assert numbers(visitor.get("/history?part=ground").text) == {101}
    assert 101 in numbers(visitor.get("/history?person=Tam+Holm").text) and numbers(visitor.get("/history?person=Nobody").text) == set()
    visitor.submit("/jobs/103/readings", red="bat.plus", black="bat.minus", state="rest", instrument="voltmeter", value="12.5")
    assert numbers(visitor.get("/history?person=Una+Skerry").text) == {103}
    assert numbers(visitor.get("/history?since=2000-01-01&until=2000-12-31").text) == set()
    assert 101 in numbers(visitor.get("/history?since=2000-01-01").text)
    page = visitor.get("/history?since=yesterday&words=groan")
    assert page.status_code == 422 and "is no day" in html.unescape(page.text) and 'value="groan"' in page.text


@pytest.mark.parametrize("before", [102, 1, -5, 2**70])
def test_a_page_begins_behind_a_job(visitor: Visitor, before: int) -> None:
    page = visitor.get(f"/history?before={before}")
    assert page.status_code == 200 and (before != 102 or numbers(page.text) == {101})


def test_of_a_kind_it_says_what_was_found_how_often(visitor: Visitor) -> None:
    machine = visitor.get("/machines/of/101").url.path
    visitor.submit(machine, name="Wharf launch", kind="bus")
    page = visitor.get("/history?kind=bus").text
    assert numbers(page) == {101} and re.search(r"<b>1</b> Ground stud in locker", page)
    assert "Found on machines of this kind" not in visitor.get("/history?kind=boat").text


def test_the_past_is_asked_of_the_replica_and_one_that_is_away_stops_nothing_else(yard: Engine, tmp_path: Path) -> None:
    with TestClient(create_app(yard, tmp_path, replica=yard)) as client:
        assert numbers(client.get("/history").text)
    away = connect("postgresql+psycopg://app:x@127.0.0.1:9/postgres", 1000)
    with TestClient(create_app(yard, tmp_path, replica=away)) as client:
        asked = client.get("/history")
        assert asked.status_code == 503 and "does not answer" in asked.text
        assert client.get("/").status_code == client.get("/jobs/101").status_code == 200
