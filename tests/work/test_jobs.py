"""Taking in, changing, deleting and bringing back."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.errors import LogError
from iron_probe.core.job.job import DEMO
from iron_probe.core.job.lines import WaitLine
from iron_probe.store import queries
from iron_probe.store.queries import Sort
from iron_probe.store.tables import MachineRow, now
from iron_probe.work.jobs import change_job, delete_job, find_job, restore_job, set_drain, set_on
from iron_probe.work.logs import append


def test_a_change_holds_and_the_yard_shows_it(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        change_job(session, job, set_on(school="maker"))
        change_job(session, job, set_drain(cables=2))
        again = find_job(session, 102)
        assert again is not None and again.school == "maker" and again.drain["cables"] == 2


def test_a_kept_job_follows_what_others_change(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        with Session(yard) as other:
            machine = other.get_one(MachineRow, job.pinned.machine_id)
            machine.name, machine.battery = "Renamed", {"ah": 31.0}
            other.add(machine)
            other.commit()
            append(other, job, DEMO, WaitLine(text="charge", until=now()))
        session.rollback()
        again = find_job(session, 102)
        assert again is not None
        assert (again.machine, again.sheet.batteries[0].capacity_ah) == ("Renamed", 31.0)
        assert again.last_line > job.last_line
        third = find_job(session, 102)
        assert third is not None
        assert third.sheet is again.sheet


def test_a_deleted_job_takes_no_line_and_comes_back_whole(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        deleted = delete_job(session, job)
        assert 102 not in [row.number for row in queries.yard_page(session, Sort.NUMBER)]
        with pytest.raises(LogError, match="deleted meanwhile"):
            append(session, deleted, DEMO, WaitLine(text="charge", until=now()))
        restore_job(session, deleted)
        assert 102 in [row.number for row in queries.yard_page(session, Sort.NUMBER)]
