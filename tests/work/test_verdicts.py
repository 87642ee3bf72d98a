"""The engine's word on a job as its log stands."""

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import DEMO, Job
from iron_probe.core.job.lines import KnownLine, ReadingLine
from iron_probe.core.solve.solution import Symptom
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


def test_what_intake_heard_counts_until_a_crank_says_something_and_is_then_something_told(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 103)
        assert job is not None and job.symptom in set(Symptom)
        state, log = job.sheet.cranking_state(), job_log(session, job)

        def intake(log: JobLog) -> list[Reading]:
            readings, numbers = evidence_of(job, log)
            return [r for r, number in zip(readings, numbers, strict=True) if number == 0]

        def heard(word: str) -> JobLog:
            reading = Reading(instrument=Instrument.EYES, state=state or "", word=word)
            return append(session, job, DEMO, ReadingLine(reading=reading, typed=word))

        tried = any(r.reading.did and r.reading.state == state for r in log.counting(log.epoch))
        assert tried or [(r.word, r.told) for r in intake(log)] == [(job.symptom, False)]
        other = Symptom.CRANKS if job.symptom != Symptom.CRANKS else Symptom.SLOW
        assert [(r.word, r.told) for r in intake(heard(other))] == [(job.symptom, True)]
        assert intake(heard(job.symptom)) == []
