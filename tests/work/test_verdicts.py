"""The engine's word on a job as its log stands."""

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.job.job import DEMO, Job
from iron_probe.core.job.lines import KnownLine
from iron_probe.work import ensembles
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log
from iron_probe.work.verdicts import evidence_of, ready, verdicts


def job_of(session: Session) -> Job:
    ensembles.settle(None, None)
    job = find_job(session, 102)
    assert job is not None
    return job


def test_it_is_worked_out_once_for_a_log_and_anew_after_a_line(yard: Engine) -> None:
    with Session(yard) as session:
        job = job_of(session)
        engine, log = ready(job, 60.0), job_log(session, job)
        assert engine is not None
        first = verdicts(job, log, engine)
        assert verdicts(job, log, engine) is first
        gone = first.posterior.suspects[0].element
        after = append(session, job, DEMO, KnownLine(element=gone, mark="absent"))
        assert gone not in [s.element for s in verdicts(job, after, engine).posterior.suspects]


def test_what_intake_heard_counts_until_it_was_tried(yard: Engine) -> None:
    with Session(yard) as session:
        job = job_of(session)
        readings, numbers = evidence_of(job, job_log(session, job))
        tried = [r for r in readings if r.instrument is Instrument.EYES and r.state == job.sheet.cranking_state()]
        assert (0 in numbers) == (bool(job.symptom) and not [n for n, r in zip(numbers, readings, strict=True) if n and r in tried])
