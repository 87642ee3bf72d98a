"""A job goes by what the yard has found on its kind of machine: as it was when it was taken in, and only where the yard wants it."""

from uuid import uuid4

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.job.experience import CEILING, FLOOR, Experience, ExperienceError, factors_on
from iron_probe.store import history
from iron_probe.store.own_yard import keep_yard
from iron_probe.store.tables import JobRow, MachineRow
from iron_probe.work.ensembles import make, wanted
from iron_probe.work.jobs import TakeIn, change_job, find_job, go_by_experience, set_on, take_in
from iron_probe.work.logs import job_log
from iron_probe.work.verdicts import verdicts

SAID = {"complaint": "groans", "symptom": "slow", "school": "common", "temp_degc": 9.0, "cold_degc": -8.0}


def test_it_is_frozen_at_intake_moves_the_word_and_is_taken_off(yard: Engine) -> None:
    with Session(yard) as session:
        first = find_job(session, 101)
        assert first is not None
        machine = session.get_one(MachineRow, first.pinned.machine_id)
        assert take_in(session, TakeIn(uuid4(), SAID), machine).experience == {}
        keep_yard(session, "", "", experience=True)
        job = take_in(session, TakeIn(uuid4(), SAID), machine)
        assert job.experience == {"confirmed": 1, "found": {"Ground stud in locker": 1}}
        engine = make(wanted(job.sheet, job.temp_degc, Scope.STARTING))
        factors = factors_on(engine.ensemble, Experience.of(job.experience))
        assert (
            factors["ground-stud"] == max(factors.values()) > 1 > min(factors.values())
            and min(factors.values()) >= FLOOR
            and max(factors.values()) <= CEILING
        )
        often = change_job(session, job, set_on(experience={"confirmed": 20, "found": {"Ground stud in locker": 18}}))
        without = go_by_experience(session, often, on=False)
        shares = [verdicts(j, job_log(session, j), engine).posterior.share("ground-stud") for j in (often, without)]
        assert shares[0] > 2 * shares[1]
        assert go_by_experience(session, without, on=True).experience == job.experience


def test_a_machine_whose_kind_nobody_said_has_none(yard: Engine) -> None:
    with Session(yard) as session:
        keep_yard(session, "", "", experience=True)
        first = find_job(session, 101)
        assert first is not None
        machine = session.get_one(MachineRow, first.pinned.machine_id)
        machine.kind = ""
        session.add(machine)
        session.commit()
        job = take_in(session, TakeIn(uuid4(), SAID), machine)
        assert job.experience == {}
        with pytest.raises(ExperienceError, match="nobody has said"):
            go_by_experience(session, job, on=True)


def test_a_job_that_came_as_a_file_is_no_experience_of_this_yard(yard: Engine) -> None:
    with Session(yard) as session:
        first = find_job(session, 101)
        assert first is not None
        kind = session.get_one(MachineRow, first.pinned.machine_id).kind
        assert history.confirmed_on(session, kind) == 1
        session.get_one(JobRow, first.id).brought_in = True
        session.commit()
        assert history.confirmed_on(session, kind) == 0 and history.found_on(session, kind) == []
