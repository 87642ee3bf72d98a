"""Where the leads stand on the Bench, and what a good machine shows there."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.web.bench.page import Typed, bench_page, probe_part
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log


@pytest.fixture
def worked(yard: Engine) -> tuple[Job, JobLog]:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        return job, job_log(session, job)


def test_what_is_unknown_in_an_address_is_left_out(worked: tuple[Job, JobLog]) -> None:
    job, _ = worked
    leads = probe_part(job, Typed(red="nowhere", black=job.sheet.minus, state="flying", instrument="spoon"), None, Scope.STARTING)
    assert (leads.red, leads.black, leads.instrument) == ("", job.sheet.minus, Instrument.VOLTMETER)
    assert leads.state in job.sheet.states and leads.good is None


def test_the_posts_while_cranking_read_as_a_good_machine_would(worked: tuple[Job, JobLog]) -> None:
    job, _ = worked
    leads = probe_part(job, Typed(red=job.sheet.plus, black=job.sheet.minus, state="crank"), None, Scope.STARTING)
    assert leads.good is not None and leads.low < leads.good < leads.high and 8 < leads.good < 13
    swapped = probe_part(job, Typed(red=job.sheet.minus, black=job.sheet.plus, state="crank"), None, Scope.STARTING)
    assert swapped.good == pytest.approx(-leads.good)


def test_a_point_stands_on_the_map_and_an_unknown_one_nowhere(worked: tuple[Job, JobLog]) -> None:
    page = bench_page(*worked, Typed())
    standing = page.standing(worked[0].sheet.plus)
    assert standing is not None and standing.id == worked[0].sheet.plus and page.standing("nowhere") is None
    assert len(page.rows) <= 30 and page.older == len(page.log.readings) - len(page.rows)
