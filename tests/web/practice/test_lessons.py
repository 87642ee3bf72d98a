"""Lessons on the page."""

import re

import pytest

from iron_probe.bay.lessons import lessons
from tests.conftest import Visitor


def test_all_are_listed_and_lead_on_to_a_case(visitor: Visitor) -> None:
    page = visitor.get("/practice/lessons").text
    assert page.count("/practice/lessons/") == 8 and "/practice/lessons" in visitor.get("/practice").text
    for one in lessons():
        shown = visitor.get(f"/practice/lessons/{one.id}")
        assert shown.status_code == 200 and one.title in shown.text
        assert f'name="number" value="{one.task.number}"' in shown.text and f'name="sheet_id" value="{one.task.sheet}"' in shown.text


def test_what_is_set_is_solved_and_stays_set(visitor: Visitor) -> None:
    address = "/practice/lessons/difference?state=lamps&knob=1&knob=0&red=lamps.ground&black=chassis.front"
    page = visitor.get(address).text
    meter = re.search(r'<output class="fig"[^>]*>([\d.]+) V', page)
    assert meter and float(meter[1]) > 12
    assert 'value="lamps" checked' in page and 'value="lamps.ground" selected' in page
    part = visitor.get(address, headers={"HX-Request": "true"}).text
    assert part.lstrip().startswith("{#") is False and "<html" not in part and 'id="lesson"' in part


@pytest.mark.parametrize(
    "query", ["state=afloat", "knob=9&knob=9", "knob=x", "knob=-1&knob=2", "knob=1&knob=1&knob=1", "red=anchor&black=", "knobs=1,2,3"]
)
def test_odd_settings_are_the_lesson_as_it_comes_or_its_worst(visitor: Visitor, query: str) -> None:
    assert visitor.get(f"/practice/lessons/difference?{query}").status_code == 200


def test_no_such_lesson_says_which_there_are(visitor: Visitor) -> None:
    answer = visitor.get("/practice/lessons/juggling")
    assert answer.status_code == 404 and "both_ways" in answer.text
