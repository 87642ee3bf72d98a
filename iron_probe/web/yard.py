"""The yard: jobs in hand and what to do on each now."""

from dataclasses import dataclass
from datetime import datetime

from fastapi import APIRouter, Request, Response

from iron_probe.machines import load_sheet
from iron_probe.store import queries
from iron_probe.store.job_log import DrainLine, JobLog, WaitLine
from iron_probe.store.tables import Job, now
from iron_probe.web.elsewhere import elsewhere
from iron_probe.web.job_work import Work, work_of
from iron_probe.web.page import Db, templates

router = APIRouter()


def waits_of(log: JobLog) -> tuple[WaitLine, ...]:
    """What a job waits for, soonest first; a wait is over for good once something was read after it was due."""
    taken = [*(r.at for r in log.readings if r.counts), *(k.at for k, _ in log.lines(DrainLine))]
    last = max(taken, default=None)
    newest = {line.text: line for _, line in log.lines(WaitLine)}  # a wait begun anew stands for the one before it
    return tuple(sorted((w for w in newest.values() if last is None or last < w.until), key=lambda w: w.until))


@dataclass(frozen=True, slots=True, kw_only=True)
class YardRow:
    """One job as the yard shows it."""

    job: Job
    sheet_title: str
    work: Work
    last_at: datetime
    waits: tuple[WaitLine, ...]
    now: datetime
    stage: str
    path: str
    told: str
    count: int


@router.get("/")
def yard(request: Request, db: Db, sort: str = "state") -> Response:
    """Jobs in hand, newest first; finished ones below."""
    rows = []
    for job in queries.open_jobs(db):
        log = queries.job_log(db, job)
        stage, path, told = elsewhere(job, log)
        last = max([job.created_at, *(r.at for r in log.readings), *(r.at for r in log.repairs), *(k.at for k in log.others)])
        rows.append(
            YardRow(
                job=job,
                sheet_title=load_sheet(job.sheet_id).title,
                work=work_of(job, log),
                last_at=last,
                waits=waits_of(log),
                now=now(),
                stage=stage,
                path=path,
                told=told,
                count=sum(r.counts for r in log.readings) + len(log.lines(DrainLine)),
            )
        )
    keys = {"machine": lambda r: r.job.machine.casefold(), "last": lambda r: -r.last_at.timestamp(), "number": lambda r: r.job.number}
    if sort in keys:
        rows.sort(key=keys[sort])
    return templates.TemplateResponse(request, "yard.html", {"rows": rows, "sort": sort})
