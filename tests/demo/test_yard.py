"""The demo yard shows the work in all its stages."""

from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log


def test_its_jobs_are_of_many_stages_and_every_line_fits_its_machine(yard: Engine) -> None:
    with Session(yard) as session:
        numbers = session.execute(text("select number, facts->'step'->>'leg' from job_summary order by number")).all()
        assert len({leg for _, leg in numbers}) >= 4
        for number, _ in numbers:
            job = find_job(session, number)
            assert job is not None
            assert not [r for r in job_log(session, job).readings if r.aside]
