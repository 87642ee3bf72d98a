"""The Yard in the browser's hands: search, order, a deleted job brought back."""

from datetime import timedelta

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.job.job import TECHNICIAN
from iron_probe.core.job.lines import WaitLine
from iron_probe.store.tables import now
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log
from iron_probe.work.summary import waits_of
from tests.conftest import Visitor


def test_a_search_finds_by_machine_and_keeps_what_was_typed(visitor: Visitor) -> None:
    found = visitor.get("/", params={"search": "van"}).text
    assert "Parcel van 11" in found and "Pool car 6" not in found and 'value="van"' in found
    assert visitor.get("/", params={"search": "\x00%_'"}).status_code == 200


def test_a_job_just_deleted_can_be_brought_back_from_the_yard(visitor: Visitor) -> None:
    visitor.submit("/jobs/102/delete")
    assert visitor.get("/jobs/102").status_code == 410
    assert "Bring job 102 back" in visitor.get("/", params={"deleted": 102}).text
    visitor.submit("/jobs/102/restore")
    assert visitor.get("/jobs/102").status_code == 200


def test_a_wait_is_begun_drawn_ended_and_leaves_its_job_out_of_what_fits(visitor: Visitor) -> None:
    visitor.submit("/jobs/102/wait", kind="charger, then rest", time="8 h", back="/battery")
    assert visitor.last.url.path == "/jobs/102/battery" and "It is over" in visitor.last.text
    yard = visitor.get("/?minutes=60").text
    day = yard.partition('aria-label="Waits of the day"')[2].partition("</section>")[0]
    assert "charger, then rest" in day and "until" in day
    fits = yard.partition('aria-label="Do now"')[2].partition("</section>")[0]
    assert "<b>102</b>" not in fits and fits.count("<li>") >= 2
    visitor.submit("/jobs/102/wait", what="charger, then rest", broken="1", back="/battery")
    assert visitor.last.url.path == "/jobs/102/battery" and "until" in visitor.last.text
    assert "No such wait was begun" in visitor.submit("/jobs/102/wait", what="paint dries", broken="1")
    visitor.submit("/jobs/102/wait", what="charger, then rest", end="1", back="")
    assert "charger, then rest" not in visitor.get("/").text.partition('aria-label="Waits of the day"')[2].partition("</section>")[0]
    assert "is no time" in visitor.submit("/jobs/102/wait", kind="soaks", time="soon") and visitor.last.status_code == 422
    assert "Say what is waited for" in visitor.submit("/jobs/102/wait", time="1 h")
    assert "at most 60 days" in visitor.submit("/jobs/102/wait", kind="soaks", time="900 d")
    assert "What fits?" in visitor.get("/?minutes=x").text


def test_a_wait_that_was_broken_lasts_as_long_again(visitor: Visitor, yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        begun = now() - timedelta(hours=3)
        append(session, job, TECHNICIAN, WaitLine(text="falls asleep", until=begun + timedelta(hours=4)), at=begun)
    visitor.submit("/jobs/102/wait", what="falls asleep", broken="1", back="/drain")
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        (due,) = [w for w in waits_of(job_log(session, job)) if w.text == "falls asleep"]
    assert abs(due.until - now() - timedelta(hours=4)) < timedelta(minutes=2)
