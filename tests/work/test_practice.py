"""The practice bay at work: what is repaired is mended, marks follow, and a solver that died is started anew."""

from uuid import uuid4

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.bay.case import Level
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import TECHNICIAN, Job
from iron_probe.core.job.lines import CondemnLine, RepairLine
from iron_probe.store.practice import PracticeRow, case_row, cases, keep_case
from iron_probe.work import practice
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log
from iron_probe.work.practice import BayError

POSTS = {"instrument": "voltmeter", "state": "rest", "red": "bat.plus", "black": "bat.minus"}


def begun(session: Session, level: Level = Level.ONE, number: int = 3) -> Job:
    return practice.begin(session, uuid4(), (level, "green-mower", number), lambda case, seen: "It does not.", TECHNICIAN)


def test_a_case_is_kept_with_its_faults_and_listed_by_who_works_it(yard: Engine) -> None:
    with Session(yard) as session:
        job = begun(session)
        row = case_row(session, job.id)
        assert row is not None and (row.number, row.sheet_id, row.level) == (3, "green-mower", "one") and row.faults
        assert job.practice and job.complaint == "It does not."
        assert [r.job_id for r, _ in cases(session, TECHNICIAN.name)] == [job.id] and not cases(session, "Somebody else")


def test_a_case_sent_twice_at_once_is_one(yard: Engine) -> None:
    with Session(yard) as first, Session(yard) as second:
        job = begun(first)
        kept = case_row(first, job.id)
        assert kept is not None and (before := kept.faults)
        keep_case(second, PracticeRow(**{**kept.model_dump(), "number": 9, "faults": []}))  # the other had not seen it yet
        first.refresh(kept)
        assert (kept.number, kept.faults) == (3, before)


def test_the_right_repair_leaves_no_fault_and_a_wrong_one_counts(yard: Engine) -> None:
    with Session(yard) as session:
        job = begun(session)
        row = case_row(session, job.id)
        assert row is not None
        guilty = row.faults[0]["element"]
        other = next(e.id for e in job.sheet.elements if e.id != guilty and e.type == "starter")
        assert practice.result(session, job, job_log(session, job)).worked.left
        log = append(session, job, TECHNICIAN, RepairLine(text="swapped", elements=[other]))
        worked = practice.result(session, job, log).worked
        assert len(worked.innocent) == 1 and worked.left
        log = append(session, job, TECHNICIAN, RepairLine(text="mended", elements=[guilty]))
        worked = practice.result(session, job, log).worked
        assert not worked.left and len(worked.innocent) == 1


def test_what_is_marked_bad_without_a_proof_or_repaired_unread_is_unproven_once(yard: Engine) -> None:
    with Session(yard) as session:
        job = begun(session)
        log = append(session, job, TECHNICIAN, CondemnLine(element="starter", proven=False, reason="it looks old"))
        assert practice.result(session, job, log).worked.unproven == (job.sheet.element("starter").title,)
        log = append(session, job, TECHNICIAN, RepairLine(text="swapped", elements=["starter"]))
        assert practice.result(session, job, log).worked.unproven == (job.sheet.element("starter").title,)
        append(session, job, TECHNICIAN, CondemnLine(element="battery", proven=True))
        assert len(practice.result(session, job, job_log(session, job)).worked.unproven) == 1


def test_a_solver_that_died_is_told_and_started_anew(yard: Engine) -> None:
    with Session(yard) as session:
        job = begun(session)
        log = job_log(session, job)
        before = practice.meter_shows(session, job, log, POSTS)
        practice.spice()._process.kill()
        practice.spice()._process.wait()
        with pytest.raises(BayError, match="Try again"):
            practice.meter_shows(session, job, log, {**POSTS, "state": "crank"})
        assert abs(float(practice.meter_shows(session, job, log, POSTS)["value"]) - float(before["value"])) < 0.3


def test_another_job_is_read_by_a_real_meter_alone(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 101)
        assert job is not None
        with pytest.raises(ReadingError, match="only a real meter"):
            practice.meter_shows(session, job, job_log(session, job), POSTS)
