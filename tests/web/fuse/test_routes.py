"""The blown fuse on its page."""

import pytest

from iron_probe.demo.drain_captures import lamp_fuse, night
from tests.conftest import Visitor
from tests.web.drain.steps import bring_in, take_in


def test_dead_functions_after_a_reversed_battery_name_the_open_leg(visitor: Visitor) -> None:
    job = take_in(visitor, "quay-digger")
    page = visitor.submit(job + "/fuse", fuse="c3", test="seen", **{"does intake-heater": "dead", "does beacon": "working"})
    assert "Open leg" in page
    assert "Intake heater fuse E2" in page


def test_a_blown_fuse_is_read_from_its_capture(visitor: Visitor) -> None:
    job = take_in(visitor, "quay-digger")
    record = bring_in(visitor, job, "lamp-fuse.csv", lamp_fuse())
    page = visitor.submit(job + "/fuse", fuse="c3", test="capture", capture=record)
    assert "Boom lamps ran away: a short" in page
    assert page.count(">cleared<") >= 1
    report = visitor.get(job + "/report").text
    assert "Boom lamps ran away (short)" in report
    assert "cleared: heater fan" in report
    page = visitor.submit(job + "/fuse", fuse="c3", test="seen", **{"state lamps": "blows", "state run": "holds"})
    assert "Boom lamp wire" in page
    assert "4 cleared: live while it holds, or dead while it blows" in page
    assert "Roof lamps <small>itself</small>" in page
    rounds = {"round Boom lamps": "boom-wire", "round Roof lamps": "roof-wire"}
    page = visitor.submit(job + "/fuse", fuse="c3", test="capture", capture=record, **rounds)
    assert "Roof lamps <small>itself</small>" not in page
    assert "the current ran away through another branch" in page
    assert "the loom itself lies on ground" in visitor.submit(job + "/fuse", fuse="c3", test="ohms", ohms="0.3", unplugged="1")
    assert "A short: " in visitor.submit(job + "/fuse", fuse="c3", test="time", seconds="0.05")


def test_a_slip_on_the_fuse_page_stays_to_be_mended_or_is_withdrawn(visitor: Visitor) -> None:
    job = take_in(visitor, "quay-digger")
    assert 'value="soon"' in visitor.submit(job + "/fuse", fuse="c3", test="time", seconds="soon")
    page = visitor.submit(job + "/fuse", fuse="c3", test="ohms", ohms="0.3", unplugged="1")
    entry = page.split('aria-label="Withdraw these ohms"')[0].rsplit('name="entry" value="', 1)[1].split('"')[0]
    assert "the loom itself lies on ground" not in visitor.submit(job + "/undo", entry=entry, back="/fuse?fuse=c3")
    page = visitor.submit(job + "/fuse", fuse="c3", test="time", seconds="0.05")
    entry = page.split('aria-label="Withdraw this time"')[0].rsplit('name="entry" value="', 1)[1].split('"')[0]
    assert "A short: " not in visitor.submit(job + "/undo", entry=entry, back="/fuse?fuse=c3")


@pytest.mark.parametrize(
    ("fields", "told"),
    [
        ({"fuse": "c99", "test": "time", "seconds": "1"}, "is no fuse on this sheet"),
        ({"fuse": "c3", "test": "time", "seconds": "soon"}, "Type the seconds"),
        ({"fuse": "c3", "test": "ohms", "ohms": "low"}, "is not a resistance"),
        ({"fuse": "c3", "test": "capture", "capture": "x"}, "Choose a capture from the list"),
        ({"fuse": "c3", "test": "seen", "state lamps": "smokes"}, "is neither blows nor holds"),
        ({"fuse": "c3", "test": "smell"}, "nothing this page keeps"),
    ],
)
def test_bad_words_of_a_fuse_are_told(visitor: Visitor, fields: dict[str, str], told: str) -> None:
    page = visitor.submit(take_in(visitor, "quay-digger") + "/fuse", **fields)
    assert visitor.last.status_code == 422
    assert told in page


def test_a_fuse_taken_off_again_and_a_capture_of_none_break_no_page(visitor: Visitor) -> None:
    job = take_in(visitor, "quay-digger")
    new = {"id": "", "title": "Winch fuse", "rating_a": "15", "box": "cab", "slot": "X1", "row": "4", "column": "1", "fed_from": "cbox.in"}
    visitor.submit(job + "/drain/boxes", **new)
    visitor.submit(job + "/fuse", fuse="added-1", test="time", seconds="0.05")
    visitor.submit(job + "/drain/boxes", id="added-1", put_back="1")
    assert visitor.get(job + "/fuse").status_code == 200
    assert "taken off the boxes again" in visitor.get(job + "/report").text
    record = bring_in(visitor, job, "night.csv", night())
    page = visitor.submit(job + "/fuse", fuse="c3", test="capture", capture=record)
    assert visitor.last.status_code == 422
    assert "No column is volts" in page
    assert visitor.get(job + "/report").status_code == 200
