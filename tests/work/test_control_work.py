"""Pin readings found again, and checks as judged."""

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.circuit.elements import Module
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.job.job import DEMO
from iron_probe.core.job.lines import ReadingLine
from iron_probe.work.control_work import checks_of, newest_like
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log


def test_a_lamp_answers_for_a_meter_at_the_same_two_points(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        lamp = Reading(instrument=Instrument.LAMP_SMALL, red=job.sheet.plus, black=job.sheet.minus, state="crank", word="bright")
        log = append(session, job, DEMO, ReadingLine(reading=lamp, typed="bright"))
        wanted = Reading(red=job.sheet.minus, black=job.sheet.plus, state="crank", value=0.0)
        found = newest_like(log, wanted)
        assert found is not None and found.reading.word == "bright"
        assert newest_like(log, wanted.model_copy(update={"red": "elsewhere"})) is None


def test_every_check_of_a_module_is_listed_before_any_was_made(yard: Engine) -> None:
    with Session(yard) as session:
        jobs = (find_job(session, n) for n in range(101, 120))
        job, module = next((j, m) for j in jobs if j for m in j.sheet.elements if isinstance(m, Module))
        checks = checks_of(job_log(session, job), module.id, job.sheet)
        assert checks and len({c.check.id for c in checks}) == len(checks)
