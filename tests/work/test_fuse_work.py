"""A blown fuse from what was said of it."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.bench.judged import Verdict
from iron_probe.core.job.job import DEMO, Job
from iron_probe.core.job.lines import TestLine
from iron_probe.work.fuse_work import fuse_work
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log
from iron_probe.work.told_tests import told_tests


@pytest.fixture
def job(yard: Engine) -> Job:
    with Session(yard) as session:
        jobs = (find_job(session, n) for n in range(101, 120))
        return next(j for j in jobs if j is not None and any(e.type == "fuse" for e in j.sheet.elements) and j.closed_at is None)


def test_the_fuse_last_worked_on_is_the_one_shown(yard: Engine, job: Job) -> None:
    with Session(yard) as session:
        fuses = [f.id for _, f in fuse_work(session, job, job_log(session, job)).tree.fuses()]
        log = append(session, job, DEMO, TestLine(screen="trip", subject=fuses[-1], test="time", typed={"seconds": "0.05"}))
        work = fuse_work(session, job, log)
        assert work.feeds.fuse.id == fuses[-1] and work.times is not None and work.times.word == "short"
        assert not set(work.others) & {e for e, _ in work.feeds.consumers}


def test_ohms_are_judged_and_told_in_the_report(yard: Engine, job: Job) -> None:
    with Session(yard) as session:
        fuse = fuse_work(session, job, job_log(session, job)).feeds.fuse.id
        log = append(session, job, DEMO, TestLine(screen="trip", subject=fuse, test="ohms", typed={"ohms": "0.2", "unplugged": "1"}))
        ohms = fuse_work(session, job, log, fuse).ohms
        assert ohms[-1][1].verdict is Verdict.BAD
        assert [t for t in told_tests(session, job, log) if t.what == "ohms to ground" and t.judged and t.judged.verdict is Verdict.BAD]
