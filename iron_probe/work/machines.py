"""Machines of the yard: brought in from a shipped sheet or a sheet file, and their circuit's versions."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session

from iron_probe.core.compose.edits import changed_is_seen, seen, strike_out
from iron_probe.core.compose.sheet_text import SheetText
from iron_probe.core.job.job import Actor
from iron_probe.core.whole_sheet import read_whole_sheet
from iron_probe.machines import sheet_text
from iron_probe.store import queries
from iron_probe.store.tables import MachineRow, SheetVersion, now
from iron_probe.work.sheets import content_hash

LONGEST_NOTES = 4000
"""Of a machine's notes, in characters."""


@dataclass(frozen=True, slots=True, kw_only=True)
class NewMachine:
    """What is said of a machine; `battery` may hold chemistry, ah, cca and fitted_on; one for `practice` is the bay's."""

    id: UUID
    name: str
    kind: str = ""
    plate: str = ""
    hours: float | None = None
    km: float | None = None
    battery: dict[str, Any] = field(default_factory=dict)
    notes: str = ""
    practice: bool = False


def bring_in(
    session: Session, machine: NewMachine, text: str, note: str, actor: Actor, at: datetime | None = None, answers: str = ""
) -> MachineRow:
    """Keep a machine with the first version of its sheet, and the `answers` it was composed from; the same id posted twice gives back the
    first. SheetError with every mistake."""
    read_whole_sheet(text)
    return keep_checked(session, machine, text, note, actor, at, answers)


def keep_checked(
    session: Session, machine: NewMachine, text: str, note: str, actor: Actor, at: datetime | None = None, answers: str = ""
) -> MachineRow:
    """Keep a machine with a sheet that was checked already, as its first version; the same id posted twice gives back the first."""
    row = MachineRow(
        id=machine.id, number=0, name=machine.name, kind=machine.kind, plate=machine.plate, hours=machine.hours, km=machine.km,
        battery=machine.battery, notes=machine.notes, practice=machine.practice, created_at=at or now(),
    )  # fmt: skip
    session.execute(insert(MachineRow).values(**row.model_dump(exclude={"number"})).on_conflict_do_nothing(index_elements=["id"]))
    if not queries.versions_of(session, machine.id):
        queries.add_version(session, machine.id, content_hash(text), text, note, actor.name, answers)
    session.commit()
    return session.get_one(MachineRow, machine.id)


def copy_of_shipped(session: Session, machine: NewMachine, sheet_id: str, actor: Actor, at: datetime | None = None) -> MachineRow:
    """A machine that starts from a shipped sheet, which the tests have checked; SolveError when there is none of that id."""
    return keep_checked(session, machine, sheet_text(sheet_id), f"copied from the shipped sheet {sheet_id}", actor, at)


def new_version(session: Session, machine: MachineRow, text: str, note: str, actor: Actor) -> SheetVersion:
    """Keep a changed sheet as the machine's next version, its changed parts no longer assumed; SheetError with every mistake."""
    read_whole_sheet(text)
    text = changed_is_seen(text, queries.newest_version(session, machine.id).text)
    kept = queries.add_version(session, machine.id, content_hash(text), text, note, actor.name)
    session.commit()
    return kept


def without(session: Session, machine: MachineRow, elements: Sequence[str], actor: Actor) -> SheetVersion:
    """The next version of a machine's sheet without parts it has not; SheetError where what is left is no sheet."""
    text = queries.newest_version(session, machine.id).text
    listed = {e["id"] for e in SheetText(text).elements}
    for element in elements:
        if element in listed - {e["id"] for e in SheetText(text).elements}:
            continue  # it hung on one struck out before
        text = strike_out(text, element)
    return new_version(session, machine, text, f"not on this machine: {', '.join(elements)}"[:200], actor)


def change_machine(session: Session, machine: MachineRow, said: NewMachine) -> None:
    """Keep what is now known of a machine; its jobs are shown under its new name."""
    for name in ("name", "kind", "plate", "hours", "km", "battery", "notes"):
        setattr(machine, name, getattr(said, name))
    session.add(machine)
    session.flush()
    queries.rename_in_yard(session, machine.id, machine.name, machine.kind)
    session.commit()


def retire(session: Session, machine: MachineRow, *, left: bool) -> None:
    """A machine left the yard, or is back: it is not offered meanwhile, and its jobs stay."""
    machine.retired_at = now() if left else None
    session.add(machine)
    session.commit()


def fit_battery(session: Session, machine_id: UUID, battery: dict[str, Any]) -> None:
    """Keep the battery that is really fitted to a machine: chemistry, ah, cca and fitted_on as far as they are known."""
    machine = session.get_one(MachineRow, machine_id)
    machine.battery = battery
    session.add(machine)
    session.commit()


def battery_of(session: Session, machine_id: UUID) -> dict[str, Any]:
    """What is known of the battery really fitted to a machine."""
    return session.get_one(MachineRow, machine_id).battery


def see(session: Session, machine: MachineRow, elements: Sequence[str], actor: Actor) -> SheetVersion:
    """The next version of a machine's sheet, on which somebody has seen parts that were only assumed."""
    text = queries.newest_version(session, machine.id).text
    return new_version(session, machine, seen(text, elements), f"seen on this machine: {', '.join(elements)}"[:200], actor)
