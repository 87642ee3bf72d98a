"""A machine's jobs side by side: what each left, and what is worse than the last time."""

from collections.abc import Iterable
from uuid import UUID

from pydantic import ValidationError
from sqlmodel import Session

from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.history import Change, Figure, Since, figures_of, since_last
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import Ending
from iron_probe.core.job.step import JobStep, Summary
from iron_probe.store import queries
from iron_probe.store.own_yard import own_yard
from iron_probe.store.tables import JobSummary, MachineRow, SheetVersion
from iron_probe.work.drain_work import newest_total
from iron_probe.work.drop_work import work_of

LOOKED_BACK = 12
"""Jobs before one that its figures are held against at most."""


def summary_kept(row: JobSummary) -> Summary:
    """A job's summary; an empty one where it is yet to be worked out, or cannot be read, which stops no other."""
    try:
        return Summary.model_validate(row.facts)
    except ValidationError:
        return Summary(step=JobStep())


def proving_jobs(session: Session, machine_id: UUID) -> dict[UUID, tuple[int, ...]]:
    """The jobs that proved a version of a machine's circuit: what was found on it was repaired, and the machine was well after; by version."""
    repaired = {row.job_id for row in queries.summaries_of(session, machine_id) if summary_kept(row).ending is Ending.REPAIRED}
    found: dict[UUID, tuple[int, ...]] = {}
    for job in queries.jobs_of(session, machine_id):
        if job.id in repaired:
            found[job.version_id] = (*found.get(job.version_id, ()), job.number)
    return found


def told_history(session: Session, machine: MachineRow, version: SheetVersion) -> str:
    """Where a version comes from, as remarks that travel at the head of its file: the yard, each version with who and why, the jobs that proved it."""
    yard, proven = own_yard(session), proving_jobs(session, machine.id)
    lines = [f"From {yard.name or 'a yard without a name'}: {machine.name}"]
    for v in queries.versions_of(session, machine.id):
        if v.number <= version.number:
            jobs = proven.get(v.id, ())
            told = f"; proven by job{'s' if len(jobs) > 1 else ''} {', '.join(map(str, jobs))}" if jobs else ""
            lines.append(f"Version {v.number}, {v.at:%Y-%m-%d}, {v.by}: {v.note or 'no note'}{told}")
    return "".join(f"# {' '.join(line.split())}\n" for line in lines)


def figures_now(job: Job, log: JobLog) -> tuple[Figure, ...]:
    """The figures of a job as it stands."""
    return figures_of(job.sheet, log.counting(log.epoch), work_of(job, log).board, newest_total(job, log), job.temp_degc)


def worse_than_last_time(session: Session, job: Job, log: JobLog) -> tuple[Since, ...]:
    """What this job reads worse than the last one that was closed on its machine left it."""
    now = figures_now(job, log)
    if not now:
        return ()
    rows = queries.summaries_of(session, job.pinned.machine_id, before=job.number, most=LOOKED_BACK)
    return tuple(s for s in held_against(now, rows, job.sheet.system_v) if s.change is Change.WORSE)


def held_against(now: Iterable[Figure], rows: Iterable[JobSummary], system_v: float) -> tuple[Since, ...]:
    """Figures against what earlier jobs left, newest first: one that is not closed left nothing yet."""
    return since_last(now, [(row.number, summary_kept(row).figures) for row in rows if row.closed], system_v)
