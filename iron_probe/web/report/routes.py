"""The report: complaint, evidence, finding, repair, before and after, on one or two sheets."""

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response

from iron_probe.core.bench.fuse_trip.capture import BranchWord
from iron_probe.core.diagnose.scope import Scope
from iron_probe.web.page import CurrentJob, Db, templates
from iron_probe.web.repair.routes import todo_list
from iron_probe.web.screen import Screen
from iron_probe.work.drain_work import drain_word, drain_work
from iron_probe.work.drop_work import board_of, work_of
from iron_probe.work.instrument import drain_log
from iron_probe.work.told_tests import ToldTest, told_tests
from iron_probe.work.verdicts import first_word

router = APIRouter()
SCREEN = Screen(name="report", path="/report", title="Report")


REPORT_WAIT_S = 8.0
SHOWN = 500
"""Readings in the report before one asks for all."""


def tell(test: ToldTest) -> str:
    """A test of another screen in a sentence."""
    if test.judged is not None:
        j = test.judged
        return (f"{test.typed}, " if test.typed else "") + f"{j.verdict.value}: {j.text} Limit: {j.limit}."
    if test.blew is not None:
        return f"{test.typed}: {test.blew.word}"
    if test.trip is None:
        return test.words
    trip = test.trip
    ran = trip.branches[trip.runaway].title if trip.runaway is not None else "no single branch"
    cleared = ", ".join(b.title.lower() for b in trip.branches if b.word is BranchWord.CLEARED)
    told = f"{ran} ran away ({trip.kind}), {trip.multiple:.1f} times the rating for {trip.surge_s:.2g} s"
    return f"{told}; cleared: {cleared}." if cleared else f"{told}."


@router.get("/jobs/{number}/report")
def report(request: Request, job: CurrentJob, db: Db, whole: Annotated[bool, Query(alias="all")] = False) -> Response:
    """The report page, made to print; the newest readings of a very long log unless `all` are asked for."""
    log = drain_log(db, job)
    work = work_of(job, log)
    boards = [board_of(job, log.counting(epoch)) for epoch in range(log.epoch + 1)]
    judged = {j.reading.number: j for board in boards if board for j in board.judged}
    ran = set(work.sheet.running_states()) & {r.reading.state for r in log.counting(0)}
    shown = log.readings if whole else log.readings[-SHOWN:]
    charging = first_word(job, log, REPORT_WAIT_S, Scope.CHARGING) if ran else None
    return templates.TemplateResponse(
        request,
        "report/report.html",
        {
            "work": work,
            "job": job,
            "first": boards[0],
            "shown": shown,
            "older": len(log.readings) - len(shown),
            "judged": judged,
            "word": first_word(job, log, REPORT_WAIT_S),
            "charging": charging,
            "tests": [(t, tell(t)) for t in told_tests(db, job, log)],
            "todos": todo_list(work),
            "drains": [(epoch, found) for epoch in range(log.epoch + 1) if (found := drain_work(job, log, epoch)).entries],
            "drain_word": drain_word,
        },
    )
