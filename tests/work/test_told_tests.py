"""What the report tells of the tests of other screens."""

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.job.job import DEMO
from iron_probe.core.job.lines import TestLine
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log
from iron_probe.work.told_tests import told_tests


def test_a_battery_test_is_judged_with_the_charge_known_before_it(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 104)
        assert job is not None
        battery = [t for t in told_tests(session, job, job_log(session, job)) if t.title == job.sheet.batteries[0].title]
        assert battery and all(t.judged is not None for t in battery)


def test_a_fuse_that_was_taken_off_again_is_told_so(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        log = append(session, job, DEMO, TestLine(screen="trip", subject="gone-fuse", test="time", typed={"seconds": "1"}))
        told = [t for t in told_tests(session, job, log) if t.title == "gone-fuse"]
        assert told and all("taken off" in t.words for t in told)
