"""Jobs that are worked on another page than the Bench say so."""

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.job.job import DEMO
from iron_probe.core.job.lines import TestLine
from iron_probe.core.job.step import Stage
from iron_probe.work.drain_work import tree_of
from iron_probe.work.elsewhere import elsewhere
from iron_probe.work.instrument import drain_log, log_instrument_total
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log
from tests.conftest import Visitor


def test_totals_lead_to_the_drain_and_a_fuse_to_its_page(visitor: Visitor) -> None:
    visitor.submit(
        "/jobs", sheet_id="pool-car", machine="Elsewhere", school="common", temp_degc="20", cold_degc="-10", symptom="", complaint="x"
    )
    number = int(visitor.last.url.path.split("/")[2])
    engine: Engine = visitor.app.state.engine  # type: ignore[attr-defined]
    with Session(engine) as session:
        job = find_job(session, number)
        assert job is not None and elsewhere(job, job_log(session, job)) is None
        fuse = tree_of(job)[1].fuses()[0][1].id
        log = append(session, job, DEMO, TestLine(screen="trip", subject=fuse, test="time", typed={"seconds": "0.1"}))
        found = elsewhere(job, log)
        assert found is not None and (found.step.stage, found.page) == (Stage.FUSE, "/fuse")
        log_instrument_total(session, job, 0.8, 0.001, series=False)
        found = elsewhere(job, drain_log(session, job))
        assert found is not None and (found.step.stage, found.page) == (Stage.DRAIN, "/drain")
