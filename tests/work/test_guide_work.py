"""A job's log put to the guide."""

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.guide.route import Concern, Leg
from iron_probe.core.guide.step import Act, Why
from iron_probe.core.job.job import DEMO
from iron_probe.core.job.lines import TestLine
from iron_probe.work.drain_work import tree_of
from iron_probe.work.guide_work import concern_of, guide_of
from iron_probe.work.instrument import drain_log, log_instrument_total
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log
from tests.conftest import Visitor


def test_totals_lead_to_the_drain_and_a_fuse_to_its_bench(visitor: Visitor) -> None:
    visitor.submit(
        "/jobs", sheet_id="pool-car", machine="Elsewhere", school="common", temp_degc="20", cold_degc="-10", symptom="", complaint="x"
    )
    number = int(visitor.last.url.path.split("/")[2])
    engine: Engine = visitor.app.state.engine  # type: ignore[attr-defined]
    with Session(engine) as session:
        job = find_job(session, number)
        assert job is not None and concern_of(job, job_log(session, job)) is Concern.STARTING
        fuse = tree_of(job)[1].fuses()[0][1]
        log = append(session, job, DEMO, TestLine(screen="trip", subject=fuse.id, test="time", typed={"seconds": "0.1"}))
        step = guide_of(job, log).step
        assert (concern_of(job, log), step.act, step.told) == (Concern.FUSE, Act.FEEDS, fuse.title)
        log_instrument_total(session, job, 0.8, 0.001, series=False)
        log = drain_log(session, job)
        step = guide_of(job, log).step
        assert (concern_of(job, log), step.leg, step.why) == (Concern.DRAIN, Leg.BATTERY, Why.SOURCE_FIRST)


def test_a_closed_job_asks_for_nothing(yard: Engine) -> None:
    with Session(yard) as session:
        closed = [j for n in range(101, 116) if (j := find_job(session, n)) is not None and j.closed_at is not None]
        assert closed
        for job in closed:
            assert guide_of(job, job_log(session, job)).step.act is Act.CLOSED


def test_every_open_job_of_the_yard_has_a_step_that_can_be_taken(yard: Engine) -> None:
    with Session(yard) as session:
        for job in [j for n in range(101, 116) if (j := find_job(session, n)) is not None and j.closed_at is None]:
            found = guide_of(job, drain_log(session, job))
            reading = found.step.reading
            assert found.step.leg in {s.leg for s in found.route}
            assert reading is None or ({reading.red, reading.black} - {None} <= set(job.sheet.points) and reading.state in job.sheet.states)
