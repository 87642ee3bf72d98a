"""The replay of a drain: each probe with what was known, what the guide would have probed, what it told; and how many the guide takes by itself."""

from collections.abc import Iterator
from uuid import uuid4

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.bay.case import Level, faults_of
from iron_probe.bay.in_bay import InBay
from iron_probe.bay.marks import PROBE_MINUTES
from iron_probe.core.bench.drain.currents import TOTAL, Way
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import TECHNICIAN, Job
from iron_probe.core.job.lines import DrainLine, MarkLine
from iron_probe.store.practice import case_row
from iron_probe.work import practice
from iron_probe.work.drain_replay import par, probed
from iron_probe.work.drain_work import drain_work
from iron_probe.work.logs import append, job_log


@pytest.fixture
def drained(yard: Engine) -> Iterator[tuple[Job, InBay, Session]]:
    with Session(yard) as session:
        asked = (Level.DRAIN, "pool-car", 8)
        job = practice.begin(session, uuid4(), asked, lambda case, seen: "Flat after a weekend.", TECHNICIAN)
        row = case_row(session, job.id)
        assert row is not None
        with practice.hands_on():
            bay = practice.machine_with(job.sheet, row.seed, faults_of(row.faults))
        yield job, bay, session


def put(session: Session, job: Job, where: str, amps: float, way: Way = Way.CLAMP) -> JobLog:
    line = DrainLine(where=where, way=way, typed=f"{1000 * amps:.0f} mA", value=amps, resolution=1e-3)
    return append(session, job, TECHNICIAN, line)


def test_the_guide_by_itself_names_what_draws(drained: tuple[Job, InBay, Session]) -> None:
    job, bay, _ = drained
    minutes, tests = par(job, JobLog(), bay)
    assert not bay.faults and not bay.innocent
    assert minutes == pytest.approx(tests * PROBE_MINUTES) and 1 < tests < 30


def test_each_probe_is_told_beside_the_guides_and_one_made_twice_tells_nothing(drained: tuple[Job, InBay, Session]) -> None:
    job, bay, session = drained
    append(session, job, TECHNICIAN, MarkLine(what="locked", ago_minutes=24 * 60))
    log = put(session, job, TOTAL, bay.total_a())
    best = drain_work(job, log).probes[0]
    fuse = next(e for e in job.sheet.elements if e.type == "fuse" and e.id != best.where)
    for _ in range(2):
        log = put(session, job, fuse.id, 0.0)
    steps = probed(job, log)
    assert [s.did.where for s in steps] == [TOTAL, fuse.id, fuse.id]
    assert (
        steps[0].best is None and not steps[0].known and not steps[0].idle and steps[0].told_bits == 0
    )  # the battery comes first, which is no probe
    assert steps[1].best is not None and steps[1].best.where == best.where and steps[1].known
    assert steps[2].idle and steps[2].told_bits <= steps[1].told_bits
    assert sum(p for _, p in steps[1].known) <= 1


def test_nothing_probed_is_nothing_to_go_through(drained: tuple[Job, InBay, Session]) -> None:
    job, _, session = drained
    assert probed(job, job_log(session, job)) == ()
