"""The watch: waiting, judging, marks and settings."""

import re
from datetime import timedelta

from sqlalchemy import text
from sqlmodel import Session

from iron_probe.core.kept import Kept
from iron_probe.demo.drain_captures import night
from iron_probe.work.jobs import find_job
from tests.conftest import Visitor
from tests.web.drain.steps import bring_in, read, take_in, total


def later(visitor: Visitor, job: str, minutes: float) -> None:
    """Let time pass: everything logged so far moves into the past."""
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        found = find_job(session, int(job.rsplit("/", 1)[1]))
        assert found is not None
        session.execute(text("update log_entry set at = at - :by where job_id = :job"), {"by": timedelta(minutes=minutes), "job": found.id})
        session.commit()
    next(k for k in Kept.every if k.name == "logs").clear()


def test_the_watch_waits_and_judges(visitor: Visitor) -> None:
    job = take_in(visitor)
    assert "no total read yet" in visitor.get(job + "/drain").text
    visitor.submit(job + "/drain/marks", what="locked")
    assert "may still be falling asleep" in total(visitor, job, "1,2 A")
    assert "falls asleep: read the total" in visitor.get("/").text
    later(visitor, job, 50)
    page = total(visitor, job, "412")
    assert "412 mA after 50 min: a drain" in page
    visitor.submit(job + "/drain/marks", what="opened")
    assert "may still be falling asleep" in total(visitor, job, "600 mA")
    page = total(visitor, job, "lots")
    assert visitor.last.status_code == 422
    assert "is not a current" in page
    assert 'value="lots"' in page


def test_a_load_switched_on_on_purpose_is_booked_off(visitor: Visitor) -> None:
    job = take_in(visitor)
    visitor.submit(job + "/drain/marks", what="booked", text="bay lamp", amps="400")
    assert ">25 mA<small>total" in total(visitor, job, "425")
    visitor.submit(job + "/drain/marks", what="unbooked")
    assert ">425 mA<small>total" in total(visitor, job, "425")
    assert "is no mark" in visitor.submit(job + "/drain/marks", what="kicked")
    page = visitor.submit(job + "/drain/marks", what="booked", text="bay lamp", amps="lots")
    assert visitor.last.status_code == 422 and 'value="bay lamp"' in page and 'value="lots"' in page


def test_settings_change_limit_and_method(visitor: Visitor) -> None:
    job = take_in(visitor, "quay-digger")
    total(visitor, job, "80")
    visitor.submit(job + "/drain/settings", school="older", method="pull", ground_cables="2", meter_step_v="1e-05")
    page = visitor.get(job + "/drain").text
    assert "80 mA: asleep" in page
    assert "round one ground cable of 2 only" in page
    assert "Total with it pulled" in visitor.get(job + "/drain/sweep").text


def test_two_ground_cables_clamped_in_turn_are_added(visitor: Visitor) -> None:
    job = take_in(visitor)
    visitor.submit(job + "/drain/settings", ground_cables="2")
    for shown in ("300", "110"):
        visitor.submit(job + "/drain/totals", value=shown, way="clamp", part_of="1")
    assert "No drain to sweep for yet" not in visitor.get(job + "/drain/sweep").text
    page = read(visitor, job, "l2", "4.1")
    assert "placed of 410 mA: the sum closes" in page


def test_drain_and_battery_are_judged_together(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "6 A")
    assert "The drain alone explains it" in visitor.get(job + "/drain?hours=9").text
    assert "is no time" in visitor.get(job + "/drain?hours=soon").text


def test_a_record_with_decimal_commas_and_a_broken_line_is_read_as_a_night(visitor: Visitor) -> None:
    job = take_in(visitor)
    record = bring_in(visitor, job, "night.csv", night())
    page = visitor.get(f"{job}/drain?record={record}").text
    assert re.search(r"<dt>sleeps at</dt><dd>31 mA", page)
    assert "every 52 min" in page
    assert "awake since" in page
    assert "1 odd line left out" in visitor.get(f"{job}/captures/{record}").text


def test_every_sheet_has_its_drain_pages(visitor: Visitor) -> None:
    for sheet in ("training-kart", "standby-generator", "fire-tender", "harbour-launch"):
        job = take_in(visitor, sheet)
        for page in ("/drain", "/drain/sweep", "/fuse"):
            assert visitor.get(job + page).status_code == 200, (sheet, page)


def test_what_is_no_sleeper_needs_no_wait_and_a_total_keeps_its_sign(visitor: Visitor) -> None:
    job = take_in(visitor)
    visitor.submit(job + "/drain/marks", what="locked")
    page = total(visitor, job, "18 A")
    assert "18.00 A is no sleeper" in page
    assert "216 W" in page
    assert '<p class="now">Part minus or pull the main fuse now, and feel for what is hot. Then: ' in page
    page = total(visitor, job, "-300")
    assert "−300 mA: it flows into the battery" in page
    assert "no drain" not in visitor.get(job + "/report").text


def test_forecasts_say_what_of_the_battery_nobody_measured(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "400 mA")
    assert "charge not measured, taken as full; capacity not proven, taken as rated" in visitor.get(job + "/drain").text
    visitor.submit(job + "/battery", test="rest", battery="battery", volts="12.4", bled="1")
    visitor.submit(job + "/battery", test="accepted", battery="battery", ah="38")
    visitor.submit(job + "/battery", test="rest", battery="battery", volts="12.5", bled="1")
    assert "% charged; holds 37 % of its rating" in visitor.get(job + "/drain").text
