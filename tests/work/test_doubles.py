"""A machine that stood in the books twice: merged, and taken apart again."""

from uuid import uuid4

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import TECHNICIAN
from iron_probe.machines import sheet_text
from iron_probe.store import queries
from iron_probe.store.doubles import merged_into
from iron_probe.store.tables import MachineRow
from iron_probe.work.doubles import merge, take_apart
from iron_probe.work.jobs import TakeIn, find_job, take_in
from iron_probe.work.machines import NewMachine, bring_in, copy_of_shipped, new_version


def test_doubles_become_one_with_the_jobs_and_versions_of_both(yard: Engine) -> None:
    with Session(yard) as session:
        first = copy_of_shipped(session, NewMachine(id=uuid4(), name="Van 12"), "parcel-van", TECHNICIAN)
        double = bring_in(
            session, NewMachine(id=uuid4(), name="Van twelve", notes="key in the office"), sheet_text("pool-car"), "", TECHNICIAN
        )
        job = take_in(session, TakeIn(uuid4(), {}), double)
        merge(session, double, first, TECHNICIAN)
        moved = find_job(session, job.number)
        assert moved is not None and (moved.machine, moved.sheet.id, moved.pinned.machine_id) == ("Van 12", "pool-car", first.id)
        assert [v.number for v in queries.versions_of(session, first.id)] == [3, 2, 1]
        assert queries.newest_version(session, first.id).text == sheet_text("parcel-van") and first.notes == "key in the office"
        assert double.id not in [m.id for m in queries.machines(session)] + [m.id for m in queries.machines(session, retired=True)]
        for pair in ((first, first), (double, first), (first, double)):
            with pytest.raises(ReadingError, match="choose another machine"):
                merge(session, *pair, TECHNICIAN)


def two(session: Session) -> tuple[MachineRow, MachineRow]:
    first = copy_of_shipped(session, NewMachine(id=uuid4(), name="Van 12", notes="tows"), "parcel-van", TECHNICIAN)
    double = copy_of_shipped(session, NewMachine(id=uuid4(), name="Van twelve", notes="key in the office"), "pool-car", TECHNICIAN)
    new_version(session, double, f"{sheet_text('pool-car')}\n# looked over\n", "looked over", TECHNICIAN)
    return first, double


def test_what_was_no_double_is_a_machine_of_its_own_again_with_all_it_came_with(yard: Engine) -> None:
    with Session(yard) as session:
        first, double = two(session)
        own, others = take_in(session, TakeIn(uuid4(), {}), first), take_in(session, TakeIn(uuid4(), {}), double)
        merge(session, double, first, TECHNICIAN)
        assert [m.number for m in merged_into(session, first.id)] == [double.number]
        since = take_in(session, TakeIn(uuid4(), {}), first)
        take_apart(session, double, first)
        found = {j.number: find_job(session, j.number) for j in (own, others, since)}
        assert [j and j.machine for j in found.values()] == ["Van 12", "Van twelve", "Van 12"]
        assert [v.number for v in queries.versions_of(session, double.id)] == [2, 1]
        assert first.notes == "tows" and double.id in [m.id for m in queries.machines(session)] and not merged_into(session, first.id)
        for row in (double, first):
            with pytest.raises(ReadingError, match="no part of this one"):
                take_apart(session, row, first)


def test_what_went_into_a_machine_that_was_merged_itself_waits_for_that(yard: Engine) -> None:
    with Session(yard) as session:
        first, double = two(session)
        third = copy_of_shipped(session, NewMachine(id=uuid4(), name="Third"), "green-mower", TECHNICIAN)
        merge(session, double, first, TECHNICIAN)
        merge(session, first, third, TECHNICIAN)
        with pytest.raises(ReadingError, match="take that apart first"):
            take_apart(session, double, first)
        take_apart(session, first, third)
        take_apart(session, double, first)
        assert [len(queries.versions_of(session, m.id)) for m in (double, first, third)] == [2, 2, 2]


def test_what_was_merged_before_the_yard_kept_it_says_so(yard: Engine) -> None:
    with Session(yard) as session:
        first, double = two(session)
        merge(session, double, first, TECHNICIAN)
        double.moved = {}
        with pytest.raises(ReadingError, match="before the yard kept"):
            take_apart(session, double, first)
