"""No sentence of a report that is not true of its job."""

from dataclasses import replace

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.posterior import Posterior, Struck, Suspect
from iron_probe.core.guide.step import Act, Why
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.step import JobStep
from iron_probe.web.report.page import finding_of, spared_of, watch_of
from iron_probe.work.drain_work import drain_work
from iron_probe.work.instrument import drain_log
from iron_probe.work.jobs import find_job
from iron_probe.work.word import Verdicts
from tests.left import left_of

CLOSED = JobStep(act=Act.CLOSED, why=Why.ENDED)
OPEN = JobStep(act=Act.LOOK, why=Why.NOTHING_LEFT)
WORN = (Suspect(element="battery", p=0.95, mode="worn", modes=(("worn", 0.95),)),)


def word(**left: object) -> Verdicts:
    found: Posterior = left_of(**left)  # type: ignore[arg-type]
    return Verdicts(posterior=found, tests=(), numbers=(3,), order=Order.BEST)


@pytest.fixture
def bus(yard: Engine) -> tuple[Job, JobLog]:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        return replace(job, symptom="slow"), JobLog()


def test_what_was_found_is_said_plainly_by_how_it_was_found(bus: tuple[Job, JobLog]) -> None:
    said = finding_of(*bus, CLOSED, word(suspects=WORN, found="battery"), None, None)
    assert said == ("Battery was worn out; its own test agrees.",)
    beside = finding_of(*bus, CLOSED, word(beside=(("strap-block", 0.9),), off_sheet=0.05), None, None)
    assert "at or beside" in beside[0] and "drawing does not show" in beside[0]
    sound = finding_of(*bus, CLOSED, word(no_fault=0.9), None, None)
    assert sound[0].startswith("Nothing wrong in what was tested")


def test_an_end_without_a_part_names_none_and_an_open_job_says_what_leads(bus: tuple[Job, JobLog]) -> None:
    ended = finding_of(*bus, CLOSED, word(suspects=WORN), None, None)
    assert ended == ("No one part was proven before the job was closed.",)
    still = finding_of(*bus, OPEN, word(suspects=WORN), None, None)
    assert still[0].startswith("Not proven yet.") and still[1] == "Leading, not found: battery 95 %."


def test_a_drain_is_told_by_its_hunt_and_not_by_how_the_machine_cranks(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 109)
        assert job is not None
        log = drain_log(session, job)
        said = finding_of(job, log, OPEN, None, None, drain_work(job, log))
    assert said[0].startswith("Asleep it drew") and "cranking" not in said[0]


def test_what_to_watch_hangs_on_the_end_and_what_was_spared_on_readings(bus: tuple[Job, JobLog]) -> None:
    assert watch_of(word(suspects=WORN, found="battery"), None, CLOSED) == ()
    sound = watch_of(word(no_fault=0.7, untested=0.15), None, OPEN)
    assert "If it comes again" in sound[0] and "hours under load" in sound[1] and sound[2] == "The job is still open."
    struck = word(eliminated=(Struck(element="starter", by_reading=1), Struck(element="strap-block", by_reading=1)))
    assert spared_of(bus[0], struck, None, ()) == ("Starter motor",)
    assert spared_of(bus[0], replace(struck, numbers=(0,)), None, ()) == ()  # what intake heard clears nothing for good
