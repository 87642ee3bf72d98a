"""Machines of the yard and the versions of their circuits."""

from uuid import uuid4

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.errors import SheetError
from iron_probe.core.job.job import TECHNICIAN
from iron_probe.machines import load_sheet, sheet_text
from iron_probe.store import queries
from iron_probe.work.machines import NewMachine, bring_in, copy_of_shipped, new_version, retire, without


def test_a_version_is_kept_once_for_a_content_and_counted_up(yard: Engine) -> None:
    text = sheet_text("green-mower")
    with Session(yard) as session:
        machine = bring_in(session, NewMachine(id=uuid4(), name="Own mower"), text, "as drawn", TECHNICIAN)
        again = new_version(session, machine, text, "the same", TECHNICIAN)
        changed = new_version(session, machine, f"{text}\n# mended\n", "a note", TECHNICIAN)
        assert (again.number, changed.number) == (1, 2)
        assert [v.number for v in queries.versions_of(session, machine.id)] == [2, 1]
        assert all(v.by for v in queries.versions_of(session, machine.id))


def test_a_circuit_that_cannot_be_worked_is_not_kept(yard: Engine) -> None:
    with Session(yard) as session:
        before = len(queries.machines(session))
        with pytest.raises(SheetError):
            bring_in(session, NewMachine(id=uuid4(), name="Broken"), "format: iron-probe-sheet/1\nid: x\n", "", TECHNICIAN)
        session.rollback()
        assert len(queries.machines(session)) == before


def test_a_shipped_sheet_is_copied_on_use(yard: Engine) -> None:
    with Session(yard) as session:
        machine = copy_of_shipped(session, NewMachine(id=uuid4(), name="Copy"), "pool-car", TECHNICIAN)
        assert queries.newest_version(session, machine.id).text == sheet_text("pool-car")


def test_a_machine_that_left_is_found_among_the_retired_until_it_is_back(yard: Engine) -> None:
    with Session(yard) as session:
        machine = copy_of_shipped(session, NewMachine(id=uuid4(), name="Pilot boat", plate="CQ-77"), "harbour-launch", TECHNICIAN)
        retire(session, machine, left=True)
        assert machine.id not in [m.id for m in queries.machines(session, "cq-77")]
        assert [m.id for m in queries.machines(session, "cq-77", retired=True)] == [machine.id]
        retire(session, machine, left=False)
        assert machine.id in [m.id for m in queries.machines(session, str(machine.number))]
        assert queries.machines(session, "9" * 30) == [] and queries.machines(session, "100%_") == []


def test_what_a_machine_has_not_is_struck_out_in_one_version(yard: Engine) -> None:
    with Session(yard) as session:
        machine = copy_of_shipped(session, NewMachine(id=uuid4(), name="Plain bus"), "crew-minibus", TECHNICIAN)
        before = load_sheet("crew-minibus")
        gone = [e.id for e in before.elements if e.type == "load"][:2]
        kept = without(session, machine, gone, TECHNICIAN)
        after = read_sheet(kept.text)
        assert kept.number == 2 and not set(gone) & {e.id for e in after.elements} and len(after.elements) <= len(before.elements) - 2
