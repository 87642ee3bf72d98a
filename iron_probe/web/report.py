"""The report: complaint, evidence, finding, repair, before and after, on one or two sheets."""

from fastapi import APIRouter, Request, Response

from iron_probe.store import queries
from iron_probe.store.job_log import JobLog
from iron_probe.store.tables import Job
from iron_probe.web.engine import Verdicts, ready, verdicts
from iron_probe.web.job_work import board_of, work_of
from iron_probe.web.page import CurrentJob, Db, templates

router = APIRouter()


REPORT_WAIT_S = 30.0


def first_word(job: Job, log: JobLog) -> Verdicts | None:
    """The engine's word on the machine as it came in; None when it could not be had in time."""
    engine = ready(job, REPORT_WAIT_S)
    before = JobLog(readings=tuple(r for r in log.readings if r.epoch == 0))
    return verdicts(job, before, engine) if engine else None


@router.get("/jobs/{number}/report")
def report(request: Request, job: CurrentJob, db: Db) -> Response:
    """The report page, made to print."""
    log = queries.job_log(db, job)
    work = work_of(job, log)
    first = board_of(job, work.sheet, [r for r in log.readings if r.counts and r.epoch == 0])
    judged = {j.reading.number: j for j in (*first.judged, *work.board.judged)}
    for epoch in range(1, log.epoch):
        judged |= {j.reading.number: j for j in board_of(job, work.sheet, log.counting(epoch)).judged}
    return templates.TemplateResponse(
        request, "report.html", {"work": work, "job": job, "first": first, "judged": judged, "word": first_word(job, log)}
    )
