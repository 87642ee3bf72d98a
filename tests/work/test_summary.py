"""What the Yard keeps of a job."""

import pytest
from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.work import summary
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log
from iron_probe.work.summary import keep_summary, summary_of


def test_what_cannot_be_judged_is_kept_as_such(yard: Engine, monkeypatch: pytest.MonkeyPatch) -> None:
    def fails(*_: object) -> None:
        raise KeyError("a part that is not there")

    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        monkeypatch.setattr(summary, "summary_of", fails)
        keep_summary(session, job, job_log(session, job))
        facts = session.execute(text("select facts from job_summary where number = 102")).scalar_one()
        assert facts["step"]["act"] is None


def test_it_counts_what_counts(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        log = job_log(session, job)
        found = summary_of(job, log)
        assert found.count == sum(len(r) for r in log.by_epoch) and found.sheet_title == job.sheet.title
