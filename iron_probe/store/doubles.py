"""Machines that stood in the yard's books twice: what goes to the other, and what goes back."""

from collections.abc import Mapping, Sequence
from typing import Any
from uuid import UUID

from sqlalchemy import update
from sqlmodel import Session, col, func, select

from iron_probe.store.tables import JobRow, MachineRow, SheetVersion


def _held(session: Session, *machines: UUID) -> None:
    """Nobody else changes these machines until this ends."""
    session.exec(select(MachineRow.id).where(col(MachineRow.id).in_(machines)).order_by(col(MachineRow.id)).with_for_update()).all()


def take_over(session: Session, double: UUID, machine_id: UUID) -> dict[str, Any]:
    """A double's jobs and versions become another machine's: its versions are numbered on behind the other's. Which they were, and behind
    which number."""
    _held(session, double, machine_id)
    last = session.exec(select(func.max(SheetVersion.number)).where(col(SheetVersion.machine_id) == machine_id)).one() or 0
    mine = col(SheetVersion.machine_id) == double
    versions = [str(v) for v in session.exec(select(SheetVersion.id).where(mine)).all()]
    session.execute(update(SheetVersion).where(mine).values(machine_id=machine_id, number=col(SheetVersion.number) + last))
    session.execute(update(JobRow).where(col(JobRow.machine_id) == double).values(machine_id=machine_id))
    return {"behind": last, "versions": versions}


def give_back(session: Session, double: UUID, machine_id: UUID, moved: Mapping[str, Any]) -> None:
    """Versions that `take_over` moved are the double's again, with every job that is pinned to one of them."""
    _held(session, double, machine_id)
    versions = [UUID(v) for v in moved["versions"]]
    its = col(SheetVersion.id).in_(versions)
    session.execute(update(SheetVersion).where(its).values(machine_id=double, number=col(SheetVersion.number) - moved["behind"]))
    session.execute(update(JobRow).where(col(JobRow.version_id).in_(versions)).values(machine_id=double))


def merged_into(session: Session, machine_id: UUID) -> Sequence[MachineRow]:
    """Doubles that went into a machine and can be taken apart again."""
    query = select(MachineRow).where(col(MachineRow.merged_into) == machine_id, col(MachineRow.moved) != {})
    return session.exec(query.order_by(col(MachineRow.number))).all()
