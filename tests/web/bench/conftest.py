"""A job of the demo yard with its log."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log


@pytest.fixture
def worked(yard: Engine) -> tuple[Job, JobLog]:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        return job, job_log(session, job)
