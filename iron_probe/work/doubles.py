"""A machine that stood in the books twice: made one, and taken apart again where it was none."""

from datetime import datetime

from sqlmodel import Session

from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import Actor
from iron_probe.store import queries
from iron_probe.store.doubles import give_back, take_over
from iron_probe.store.tables import MachineRow, now
from iron_probe.work.machines import LONGEST_NOTES


def merge(session: Session, double: MachineRow, machine: MachineRow, actor: Actor) -> None:
    """The double's jobs and versions go to the other, whose circuit stays the newest. ReadingError where they are one already, or either was merged
    before."""
    if double.id == machine.id or double.merged_into or machine.merged_into:
        raise ReadingError("Nothing was merged: choose another machine of the yard, one that was not merged itself")
    kept = queries.newest_version(session, machine.id)
    double.moved = take_over(session, double.id, machine.id) | {"retired_at": double.retired_at and double.retired_at.isoformat()}
    note = f"kept when machine {double.number}, {double.name}, was merged into this one"
    queries.add_version(session, machine.id, kept.content_hash, kept.text, note[:200], actor.name, kept.answers)
    double.merged_into, double.retired_at = machine.id, now()
    machine.notes = "\n".join(filter(None, (machine.notes, double.notes)))[:LONGEST_NOTES]
    session.add_all((double, machine))
    queries.rename_in_yard(session, machine.id, machine.name, machine.kind)
    session.commit()


def take_apart(session: Session, double: MachineRow, machine: MachineRow) -> None:
    """The double is a machine of its own again, with the versions it came with and the jobs that are pinned to them; a job pinned to one of the other's
    since stays there. ReadingError where it is no part of that machine, that one was merged itself, or it was merged before this could be undone."""
    if double.merged_into != machine.id or machine.merged_into:
        raise ReadingError(
            "Nothing was taken apart: that machine is no part of this one, or this one went into another; take that apart first"
        )
    if not double.moved:
        raise ReadingError("Nothing was taken apart: it was merged before the yard kept what came from where")
    give_back(session, double.id, machine.id, double.moved)
    retired = double.moved["retired_at"]
    double.merged_into, double.moved, double.retired_at = None, {}, retired and datetime.fromisoformat(retired)
    if double.notes:
        machine.notes = machine.notes.removesuffix(double.notes).removesuffix("\n")
    session.add_all((double, machine))
    session.flush()
    for one in (double, machine):
        queries.rename_in_yard(session, one.id, one.name, one.kind)
    session.commit()
