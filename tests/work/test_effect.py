"""What a draft does to the verdicts of jobs in hand."""

from collections.abc import Iterator
from dataclasses import replace
from uuid import uuid4

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.compose.edits import put_in, strike_out
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.job.job import TECHNICIAN, Job
from iron_probe.core.job.lines import ReadingLine
from iron_probe.machines import sheet_text
from iron_probe.store.tables import MachineRow
from iron_probe.work.effect import effects
from iron_probe.work.jobs import TakeIn, take_in
from iron_probe.work.logs import append
from iron_probe.work.machines import NewMachine, bring_in
from iron_probe.work.verdicts import ready

MOWER = sheet_text("green-mower")


@pytest.fixture
def in_hand(yard: Engine) -> Iterator[tuple[Session, MachineRow, Job]]:
    with Session(yard) as session:
        machine = bring_in(session, NewMachine(id=uuid4(), name="Own mower"), MOWER, "", TECHNICIAN)
        job = take_in(session, TakeIn(uuid4(), {"symptom": "slow"}), machine)
        for red, black, volts in (("frame", "frame.eye", 1.9), ("bat.plus", "sol.in", 0.1)):
            reading = Reading(instrument=Instrument.VOLTMETER, red=red, black=black, state="crank", value=volts)
            append(session, job, TECHNICIAN, ReadingLine(reading=reading, typed=str(volts)))
        yield session, machine, job


def test_a_joint_drawn_takes_its_share_of_what_is_suspected(in_hand: tuple[Session, MachineRow, Job]) -> None:
    session, machine, job = in_hand
    draft = read_sheet(put_in(MOWER, "frame-bolt", "Joint found", "joint"))
    first = effects(session, machine, draft)
    assert [e.job for e in first] == [job.number]
    for sheet in (job.sheet, draft):
        assert ready(replace(job, sheet=sheet), wait_s=120) is not None
    (found,) = effects(session, machine, draft)
    assert found.before and found.after and not found.why and found.aside == 0
    assert "Joint found" in dict(found.after) and "Joint found" not in dict(found.before)


def test_readings_of_what_the_draft_has_not_are_counted(in_hand: tuple[Session, MachineRow, Job]) -> None:
    session, machine, _ = in_hand
    (found,) = effects(session, machine, read_sheet(strike_out(MOWER, "frame-bolt")))
    assert found.aside == 1
