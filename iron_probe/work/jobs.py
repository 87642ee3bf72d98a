"""Jobs with the circuit they are pinned to: taken in, found, changed, moved to another version or machine, deleted and brought back."""

import secrets
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any
from uuid import UUID

from sqlalchemy import URL
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session

from iron_probe.core.job.experience import ExperienceError
from iron_probe.core.job.job import Job, Pinned
from iron_probe.core.kept import Kept
from iron_probe.store import history, queries
from iron_probe.store.own_yard import own_yard
from iron_probe.store.tables import JobRow, MachineRow, SheetVersion, now
from iron_probe.work.instrument import drain_log
from iron_probe.work.sheets import fitted_sheet
from iron_probe.work.summary import keep_summary

INTAKE = ("complaint", "symptom", "circumstances", "changed_before", "replaced_before", "school", "temp_degc", "cold_degc")
"""What intake says of a job."""


_jobs: Kept[tuple[URL, str], Job | None] = Kept("jobs", 2048)


def find_job(session: Session, number: int) -> Job | None:
    """A job by its number with its circuit, deleted or not. It is read anew only when it, its machine or its sheet's versions have changed."""
    found = queries.job_stamp(session, number)
    if found is None:
        return None

    stamp, last_line = found

    def read() -> Job | None:
        row = queries.find_job_row(session, number)
        return None if row is None else _job(session, row, last_line)

    job = _jobs.get((session.get_bind().engine.url, stamp), read)
    return None if job is None else replace(job, last_line=last_line)


def _job(session: Session, found: dict[str, Any], last_line: int) -> Job:
    """The job with the circuit of its version and the battery that is really fitted."""
    digest, battery = found.pop("content_hash"), found.pop("battery")
    pinned = Pinned(
        machine_id=found.pop("machine_id"), version_id=found.pop("version_id"), number=found.pop("version"), content_hash=digest,
        newest=found.pop("newest"),
    )  # fmt: skip
    return Job(sheet=fitted_sheet(session, digest, battery), pinned=pinned, last_line=last_line, **found)


@dataclass(frozen=True, slots=True)
class TakeIn:
    """What a machine is taken in for: intake's answers under an id made by the page."""

    id: UUID
    said: dict[str, Any]


def take_in(session: Session, taken: TakeIn, machine: MachineRow) -> Job:
    """Keep a new job on the newest version of a machine; the same id posted twice gives back the first."""
    version = queries.newest_version(session, machine.id)
    experience = experience_on(session, machine) if own_yard(session).experience and not machine.practice else {}
    row = JobRow(
        id=taken.id, number=0, machine_id=machine.id, version_id=version.id, key=secrets.token_urlsafe(18), experience=experience, **taken.said
    )  # fmt: skip
    values = row.model_dump(exclude={"number"})
    session.execute(insert(JobRow).values(**values).on_conflict_do_nothing(index_elements=["id"]))
    number = session.get_one(JobRow, taken.id).number
    job = find_job(session, number)
    assert job is not None
    keep_summary(session, job, drain_log(session, job))
    session.commit()
    return job


def experience_on(session: Session, machine: MachineRow) -> dict[str, Any]:
    """What this yard has found on machines of a kind so far, as a job keeps it; nothing of a machine whose kind was not said."""
    confirmed = history.confirmed_on(session, machine.kind) if machine.kind else 0
    return {"confirmed": confirmed, "found": dict(history.found_on(session, machine.kind))} if confirmed else {}


def go_by_experience(session: Session, job: Job, *, on: bool) -> Job:
    """Have a job go by what the yard has found by now, or by the engine's own priors alone. ExperienceError where it has found nothing."""
    machine = session.get_one(MachineRow, job.pinned.machine_id)
    found = experience_on(session, machine) if on else {}
    if on and not found:
        kind = (
            f"a machine of the kind “{machine.kind}”"
            if machine.kind
            else "this kind of machine, which nobody has said: say it on the machine's page"
        )
        raise ExperienceError(f"No job that was repaired and well after was closed here on {kind}")
    return change_job(session, job, set_on(experience=found))


def change_job(session: Session, job: Job, change: Callable[[JobRow], None]) -> Job:
    """Change intake answers or settings of a job; changes of one job are made one after the other, each on what the one before left."""
    row = queries.lock_job(session, job.id)
    change(row)
    session.add(row)
    session.flush()
    changed = find_job(session, job.number)
    assert changed is not None
    keep_summary(session, changed, drain_log(session, changed))
    session.commit()
    return changed


def set_on(**values: Any) -> Callable[[JobRow], None]:
    """A change that sets some columns."""

    def change(row: JobRow) -> None:
        for name, value in values.items():
            setattr(row, name, value)

    return change


def set_drain(**values: Any) -> Callable[[JobRow], None]:
    """A change that sets some of the drain settings."""

    def change(row: JobRow) -> None:
        row.drain = {**row.drain, **values}

    return change


def pin(session: Session, job: Job, version: SheetVersion) -> Job:
    """Move a job to another version, of its own or of another machine; readings that name points that are gone stand aside."""
    return change_job(session, job, set_on(machine_id=version.machine_id, version_id=version.id))


def delete_job(session: Session, job: Job) -> Job:
    """Take a job out of the yard; its log stays."""
    return change_job(session, job, set_on(deleted_at=now()))


def restore_job(session: Session, job: Job) -> Job:
    """Bring a deleted job back."""
    return change_job(session, job, set_on(deleted_at=None))
