"""The fuse sweep, from the boxes down to a plug."""

import re

import pytest

from tests.conftest import Visitor
from tests.web.drain.steps import read, take_in, total


def test_a_sweep_goes_down_to_the_plug(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "410")
    read(visitor, job, "b1", "0.0")
    page = read(visitor, job, "b2", "0.5")
    assert "feeds the lift box" in page
    page = read(visitor, job, "l2", "4.1")
    assert "<b>Gate controller fuse L2</b> something behind it draws" in page
    total(visitor, job, "411")
    page = read(visitor, job, "gate-controller.supply", "33", "plug parted")
    assert "<b>Gate controller</b> does not sleep" in page
    assert "the sum closes" in page
    assert "from 411 mA to 33 mA" in visitor.get(job + "/drain/sweep?at=l2").text
    report = visitor.get(job + "/report").text
    assert "Gate controller: does not sleep" in report


def test_a_sweep_spoiled_by_sleep_turns_to_no_information(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "405")
    read(visitor, job, "c1", "0")
    page = total(visitor, job, "30")
    page = visitor.get(job + "/drain/sweep?box=cabin").text
    assert "Sweep again" in page
    assert "after it was 30 mA, normal" in page
    assert "slot-no-information" in page


@pytest.mark.parametrize(
    ("fields", "told"),
    [
        ({"where": "", "value": "3", "way": "fuse pulled"}, "pulled without its number is no evidence"),
        ({"where": "c1", "value": "900 V", "way": "fuse drop"}, "beyond"),
        ({"where": "c1", "value": "500", "way": "fuse drop"}, "cannot carry"),
        ({"where": "starter-cable", "value": "3", "way": "fuse drop"}, "is no fuse"),
        ({"where": "c1", "value": "5", "way": "guess"}, "Say how it was read"),
        ({"where": "c1", "value": "900", "way": "fuse pulled"}, "pulling it woke something"),
    ],
)
def test_bad_sweep_readings_are_told_beside_the_field(visitor: Visitor, fields: dict[str, str], told: str) -> None:
    job = take_in(visitor)
    total(visitor, job, "410")
    page = visitor.submit(job + "/drain/readings", **fields)
    assert visitor.last.status_code == 422
    assert told in page


def test_a_branch_above_the_total_is_a_disagreement_and_undo_takes_it_back(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "90")
    page = read(visitor, job, "c2", "9.0")
    assert "Instruments disagree" in page
    read(visitor, job, "c3", "0.0")
    entry = re.search(r'name="entry" value="([^"]+)" aria-label="Withdraw reading D2"', page)
    assert entry
    page = visitor.submit(job + "/undo", back="/drain/sweep?box=cabin", entry=entry[1])
    assert "Instruments disagree" not in page
    assert "2 readings so far" in page


def test_a_slot_is_corrected_added_and_put_back(visitor: Visitor) -> None:
    job = take_in(visitor)
    fields = {"id": "c1", "title": "Radio fuse", "rating_a": "20", "kind": "mini", "box": "cabin", "slot": "C1", "row": "1", "column": "1"}
    page = visitor.submit(job + "/drain/boxes", **fields, feeds="radio and horn")
    assert "Radio fuse" in page
    assert "20 A mini: radio and horn" in page
    page = visitor.submit(job + "/drain/boxes", **{**fields, "rating_a": "lots"})
    assert visitor.last.status_code == 422
    assert "Rating:" in page
    new = {
        "id": "",
        "title": "Tow socket fuse",
        "rating_a": "15",
        "box": "cabin",
        "slot": "X1",
        "row": "4",
        "column": "1",
        "fed_from": "cabin.in",
    }
    page = visitor.submit(job + "/drain/boxes", **new)
    assert "Tow socket fuse" in page
    total(visitor, job, "400")
    assert "behind Tow socket fuse, off the drawing" in read(visitor, job, "added-1", "1.9")
    page = visitor.submit(job + "/drain/boxes", id="c1", put_back="1")
    assert "Radio fuse" not in page
