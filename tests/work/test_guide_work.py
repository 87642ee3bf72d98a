"""A job's log put to the guide."""

import numpy as np
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.guide.route import Concern, Leg
from iron_probe.core.guide.step import Act, Why
from iron_probe.core.job.fold import LOOKS
from iron_probe.core.job.job import DEMO
from iron_probe.core.job.lines import TestLine
from iron_probe.work.drain_work import tree_of
from iron_probe.work.guide_work import concern_of, guide_by, guide_of
from iron_probe.work.instrument import drain_log, log_instrument_total
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log
from iron_probe.work.verdicts import evidence_of
from iron_probe.work.word import Verdicts
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


def test_a_reading_that_others_did_not_bear_out_is_taken_again_as_often_as_looks_count(visitor: Visitor) -> None:
    visitor.submit(
        "/jobs", sheet_id="green-mower", machine="Odd", school="common", temp_degc="20", cold_degc="-10", symptom="slow", complaint="x"
    )
    number = int(visitor.last.url.path.split("/")[2])
    posts = {"red": "bat.plus", "black": "bat.minus", "instrument": "voltmeter"}
    for state, value in (("rest", "12.6"), ("crank", "9.2"), ("crank", "10.9")):
        visitor.submit(f"/jobs/{number}/readings", **posts, state=state, value=value, sure="1")
    sound = Posterior(
        suspects=(),
        eliminated=(),
        no_fault=1.0,
        off_sheet=0.0,
        unexplained=(),
        contradictory=(3,),
        found=None,
        pair=None,
        weights=np.zeros(0),
    )
    with Session(visitor.app.state.engine) as session:  # type: ignore[attr-defined]
        job = find_job(session, number)
        assert job is not None
        for count in range(2, LOOKS + 1):
            log = job_log(session, job)
            numbers = evidence_of(job, log)[1]
            word = Verdicts(posterior=sound, tests=(), numbers=numbers, order=Order.BEST)
            step = guide_by(job, log, Concern.STARTING, word, awaited=False).step
            assert (step.why, step.again) == ((Why.ODD_ONCE, 2) if count < LOOKS else (Why.NO_FAULT, None)), count
            visitor.submit(f"/jobs/{number}/readings", **posts, state="crank", value="10.9", sure="1")


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
