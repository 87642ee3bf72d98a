"""A reading from whichever screen: asked about when it is hard to believe, dated when it was noted on paper, and back to where it was typed."""

import re

import pytest

from tests.conftest import Visitor

POSTS = {"red": "bat.plus", "black": "bat.minus", "state": "rest", "instrument": "voltmeter"}
SCREENS = [("", "bench"), ("/control?after=start-relay:0", "start-relay:0"), ("/charge", "posts:rest")]


@pytest.mark.parametrize(("back", "at"), SCREENS)
def test_the_same_question_is_asked_on_every_screen_and_one_key_answers_it(visitor: Visitor, back: str, at: str) -> None:
    page = visitor.submit("/jobs/102/readings", **POSTS, back=back, at=at, value="50")
    assert visitor.last.status_code == 422
    assert "50.00 V on a 12 V machine: log it anyway?" in page
    assert 'name="sure" value="1"' in page and 'value="50"' in page
    visitor.submit("/jobs/102/readings", **POSTS, back=back, at=at, value="50", sure="1")
    assert visitor.last.status_code == 200
    assert "50.00 V" in visitor.get("/jobs/102").text


def test_leads_the_other_way_round_are_asked_about(visitor: Visitor) -> None:
    page = visitor.submit("/jobs/102/readings", **POSTS, value="-12.4")
    assert "are the leads the other way round?" in page


def test_a_reading_noted_on_paper_keeps_its_time(visitor: Visitor) -> None:
    page = visitor.submit("/jobs/102/readings", **POSTS, back="/charge", at="posts:rest", value="12.4", read_at="yesterday 16:30")
    assert re.search(r"reading \d+, \d\d \w\w\w 16:30", visitor.get("/jobs/102/charge?place=posts&state=rest").text), page[:200]
    page = visitor.submit("/jobs/102/readings", **POSTS, value="12.4", read_at="noonish")
    assert visitor.last.status_code == 422
    assert "“noonish” is no time" in page and 'value="noonish"' in page and 'value="12.4"' in page


@pytest.mark.parametrize("back", ["//evil.example", "https://evil.example", "/\\evil", "/control#a b", "/charge?x#/"])
def test_nobody_is_sent_off_the_job(visitor: Visitor, back: str) -> None:
    visitor.submit("/jobs/102/readings", **POSTS, back=back, value="12.4")
    assert visitor.last.url.path == "/jobs/102"


def test_a_refusal_names_what_is_wrong_on_the_charge_board(visitor: Visitor) -> None:
    page = visitor.submit("/jobs/102/readings", **POSTS, back="/charge", at="posts:rest", value="many")
    assert visitor.last.status_code == 422
    assert "is not a voltage" in page and 'value="many"' in page and "<h3>Battery posts</h3>" in page
