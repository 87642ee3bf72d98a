"""What a draft of a machine's circuit would do to the verdicts of its jobs in hand, before it is kept."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from uuid import NAMESPACE_URL, uuid5

from sqlmodel import Session

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.job.job import Job
from iron_probe.store import queries
from iron_probe.store.tables import MachineRow
from iron_probe.work.guide_work import scope_of
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log
from iron_probe.work.sheets import with_battery
from iron_probe.work.verdicts import ready_or_why, verdicts

MOST_JOBS, SHOWN = 3, 3
"""Jobs in hand that are looked at, and suspects shown of each."""

Leading = tuple[tuple[str, float], ...]
"""Titles of suspects with their shares."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Effect:
    """The leading suspects of a job on its circuit of today and on the draft; None while they are worked out, and the word why they cannot be.
    `aside`: readings that name what the draft has not."""

    job: int
    before: Leading | None
    after: Leading | None
    why: str
    aside: int


def effects(session: Session, machine: MachineRow, draft: Sheet) -> tuple[Effect, ...]:
    """The effect of a draft on the newest jobs in hand."""
    fitted = with_battery(draft, machine.battery)
    rows = [row for row in queries.jobs_of(session, machine.id) if row.closed_at is None][:MOST_JOBS]
    jobs = [job for row in rows if (job := find_job(session, row.number)) is not None]
    return tuple(_effect(session, job, fitted) for job in jobs)


def _effect(session: Session, job: Job, draft: Sheet) -> Effect:
    drawn = replace(job, sheet=draft, pinned=replace(job.pinned, version_id=uuid5(NAMESPACE_URL, draft.fingerprint)))
    before, _ = _leading(session, job)
    after, why = _leading(session, drawn)
    aside = sum(r.aside for r in job_log(session, drawn).readings) - sum(r.aside for r in job_log(session, job).readings)
    return Effect(job=job.number, before=before, after=after, why=why, aside=max(aside, 0))


def _leading(session: Session, job: Job) -> tuple[Leading | None, str]:
    log = job_log(session, job)
    engine, why = ready_or_why(job, scope_of(job, log))
    if engine is None:
        return None, why
    posterior = verdicts(job, log, engine).posterior
    titles: Mapping[str, str] = {e.id: e.title for e in job.sheet.elements}
    named = [(titles[s.element], s.p) for s in posterior.suspects[:SHOWN]]
    more = [("no fault", posterior.no_fault), ("something not on the drawing", posterior.off_sheet)]
    return tuple(sorted([*named, *more], key=lambda n: -n[1])[:SHOWN]), ""
