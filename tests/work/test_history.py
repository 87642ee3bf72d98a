"""What a machine's jobs left, and what is worse than the last time."""

from uuid import uuid4

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.job.history import Measure
from iron_probe.core.job.job import TECHNICIAN, Job
from iron_probe.core.job.lines import ReadingLine
from iron_probe.store import queries
from iron_probe.store.tables import MachineRow, now
from iron_probe.work.history import summary_kept, worse_than_last_time
from iron_probe.work.jobs import TakeIn, change_job, set_on, take_in
from iron_probe.work.logs import append, job_log
from iron_probe.work.machines import NewMachine, copy_of_shipped


def job_with(session: Session, machine: MachineRow, cranking_v: float, temp_degc: float = 15.0) -> Job:
    job = take_in(session, TakeIn(uuid4(), {"temp_degc": temp_degc}), machine)
    sheet = job.sheet
    reading = Reading(
        instrument=Instrument.VOLTMETER, red=sheet.plus, black=sheet.minus, state=sheet.cranking_state() or "", value=cranking_v
    )
    append(session, job, TECHNICIAN, ReadingLine(reading=reading, typed=f"{cranking_v}"))
    return job


def test_a_crank_lower_than_on_the_last_job_is_told_and_one_as_before_is_not(yard: Engine) -> None:
    with Session(yard) as session:
        machine = copy_of_shipped(session, NewMachine(id=uuid4(), name="Own bus"), "crew-minibus", TECHNICIAN)
        first = job_with(session, machine, 10.5)
        change_job(session, first, set_on(closed_at=now()))
        assert worse_than_last_time(session, first, job_log(session, first)) == ()
        rows = queries.summaries_of(session, machine.id)
        assert [f.value for row in rows for f in summary_kept(row).figures if f.measure is Measure.CRANKING_V] == [10.5]
        same = job_with(session, machine, 10.45)
        worse, colder = job_with(session, machine, 9.7), job_with(session, machine, 9.0, -12.0)
        assert worse_than_last_time(session, same, job_log(session, same)) == ()
        told = worse_than_last_time(session, worse, job_log(session, worse))
        assert [(s.now.value, s.before.value, s.job) for s in told] == [
            (9.7, 10.5, first.number)
        ]  # the one between is not closed: it left nothing yet
        assert worse_than_last_time(session, colder, job_log(session, colder)) == ()
