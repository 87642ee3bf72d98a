"""Taking the sample yard's machines in, each from a shipped sheet."""

from datetime import datetime
from typing import Any
from uuid import UUID, uuid5

from sqlmodel import Session

from iron_probe.core.job.job import DEMO, Actor, Job
from iron_probe.core.people.rights import Role
from iron_probe.work.jobs import TakeIn, take_in
from iron_probe.work.machines import NewMachine, copy_of_shipped

SAMPLES = (("Una Skerry", Role.LEAD), ("Tam Holm", Role.TECHNICIAN), ("Office window", Role.VIEWER))
"""People of the sample yard; whoever takes nobody works as the first."""
AT_HAND = Actor(SAMPLES[1][0])
"""Whose work the demo's jobs are."""


def stage_job(session: Session, key: UUID, intake: dict[str, Any], start: datetime) -> Job:
    """A demo job on a machine of its own; `intake` names the sheet, the machine and what it is taken in for."""
    said = dict(intake)
    sheet_id = str(said.pop("sheet_id"))
    machine = NewMachine(id=uuid5(key, "machine"), name=str(said.pop("machine")), kind=sheet_id.replace("-", " "))
    row = copy_of_shipped(session, machine, sheet_id, DEMO, start)
    return take_in(session, TakeIn(key, {**said, "created_at": start}), row)
