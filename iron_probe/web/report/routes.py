"""The report: complaint, evidence, finding, repair, before and after, on one or two sheets."""

from dataclasses import dataclass
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query, Request, Response
from sqlmodel import Session

from iron_probe.core.bench.battery.card import BatteryCard
from iron_probe.core.bench.bus import bus_line, read_levels
from iron_probe.core.bench.control.module_checks import LowLine, find_check, judge_check
from iron_probe.core.bench.fuse_trip.capture import BranchWord
from iron_probe.core.bench.fuse_trip.feeds import find_fuse, judge_ohms_to_ground
from iron_probe.core.bench.fuse_trip.time_current import multiples_for
from iron_probe.core.bench.stator import judge_unplugged
from iron_probe.core.bench.typed_value import parse_quantity
from iron_probe.core.circuit.elements import Stator
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import TestLine
from iron_probe.store import captures
from iron_probe.web import words
from iron_probe.web.battery.page import batteries_of
from iron_probe.web.fuse.routes import read_capture
from iron_probe.web.page import CurrentJob, Db, templates
from iron_probe.web.repair.routes import todo_list
from iron_probe.web.screen import Screen
from iron_probe.work.drain_work import drain_word, drain_work, tree_of
from iron_probe.work.drop_work import board_of, work_of
from iron_probe.work.elsewhere import elsewhere
from iron_probe.work.instrument import drain_log
from iron_probe.work.verdicts import Verdicts, ready, verdicts

router = APIRouter()
SCREEN = Screen(name="report", path="/report", title="Report")


REPORT_WAIT_S = 8.0
SHOWN = 500
"""Readings in the report before one asks for all."""


def first_word(job: Job, log: JobLog, work: Scope = Scope.STARTING) -> Verdicts | None:
    """The engine's word on the machine as it came in, for a kind of work; None when it could not be had in time."""
    engine = ready(job, REPORT_WAIT_S, work)
    before = JobLog(readings=log.counting(0), by_epoch=(log.counting(0),), others=log.others)
    return verdicts(job, before, engine) if engine else None


@dataclass(frozen=True, slots=True, kw_only=True)
class TestShown:
    """A test of another screen as the report tells it; `after` the repair it was made after, 0 for none."""

    __test__ = False
    title: str
    text: str
    after: int


def _told(db: Session, job: Job, sheet: Sheet, line: TestLine) -> list[tuple[str, str]]:
    """A stator, bus line or fuse as it was judged: titles with their words."""
    if line.screen == "stator":
        stator = sheet.element(line.subject)
        judged = judge_unplugged(stator, line.typed)[1] if isinstance(stator, Stator) else []
        return [(f"{stator.title}, {what}", f"{j.verdict.value}: {j.text} Limit: {j.limit}.") for what, j in judged]
    if line.screen == "bus":
        bus = bus_line(sheet)
        levels = read_levels(bus, line.typed, parse_quantity(line.typed["supply"], "V").value) if bus else []
        return [
            (f"Bus at {sheet.point(v.point).title}", f"{v.judged.verdict.value}: {v.judged.text} Limit: {v.judged.limit}.") for v in levels
        ]
    tree = tree_of(job)[1]
    if all(f.id != line.subject for _, f in tree.fuses()):
        return [(line.subject, f"{line.test}: this fuse was taken off the boxes again")]
    fuse = find_fuse(tree, line.subject)[1]
    title = fuse.title
    if line.test == "ohms":
        j = judge_ohms_to_ground(tree, line.subject, parse_quantity(line.typed["ohms"], "Ω").value, bool(line.typed.get("unplugged")))
        return [(f"{title}, ohms to ground", f"{j.verdict.value}: {j.text} Limit: {j.limit}.")]
    if line.test == "capture":
        row = captures.find_capture(db, job, UUID(line.typed["capture"]))
        if row is None:
            return []
        trip = read_capture(db, row, fuse.rating_a)[0]
        ran = trip.branches[trip.runaway].title if trip.runaway is not None else "no single branch"
        cleared = ", ".join(b.title.lower() for b in trip.branches if b.word is BranchWord.CLEARED)
        return [
            (
                f"{title}, capture",
                f"{ran} ran away ({trip.kind}), {trip.multiple:.1f} times the rating for {trip.surge_s:.2g} s"
                + (f"; cleared: {cleared}." if cleared else "."),
            )
        ]
    if line.test == "time":
        return [(f"{title}, time to blow", f"{line.typed['seconds']} s: {multiples_for(float(line.typed['seconds'])).word}")]
    return []


def other_tests(db: Session, job: Job, log: JobLog) -> list[TestShown]:
    """Battery tests, crank traces, checks, stator, bus and fuse with their verdicts."""
    sheet = job.sheet
    cards = {b.id: BatteryCard(sheet=sheet, battery=b, temp_degc=job.temp_degc) for b in batteries_of(sheet)}
    shown = []
    for kept, line in [*log.tests("battery"), *log.tests("check")]:
        if line.screen == "battery":
            card = cards.get(line.subject) or next(iter(cards.values()))
            judged = card.add(line.test, line.typed).judged
            shown.append(
                TestShown(
                    title=f"{card.battery.title}, {line.test}",
                    text=f"{judged.verdict.value}: {judged.text} Limit: {judged.limit}.",
                    after=kept.epoch,
                )
            )
        else:
            _, judged = judge_check(
                find_check(line.test), line.typed["value"], float(sheet.system_v), LowLine(line.typed.get("low_line", "2"))
            )
            shown.append(
                TestShown(
                    title=f"{sheet.element(line.subject).title}, {find_check(line.test).title}",
                    text=f"{line.typed['value']}, {judged.verdict.value}: {judged.text} Limit: {judged.limit}.",
                    after=kept.epoch,
                )
            )
    for kept, line in [*log.tests("stator"), *log.tests("bus"), *log.tests("trip")]:
        shown += [TestShown(title=title, text=text, after=kept.epoch) for title, text in _told(db, job, sheet, line)]
    for kept, line in log.tests("capture"):
        shown.append(TestShown(title=f"Crank trace {line.typed.get('file', '')}", text=line.typed.get("words", ""), after=kept.epoch))
    return shown


@router.get("/jobs/{number}/report")
def report(request: Request, job: CurrentJob, db: Db, whole: Annotated[bool, Query(alias="all")] = False) -> Response:
    """The report page, made to print; the newest readings of a very long log unless `all` are asked for."""
    log = drain_log(db, job)
    work = work_of(job, log)
    boards = [board_of(job, log.counting(epoch)) for epoch in range(log.epoch + 1)]
    judged = {j.reading.number: j for board in boards if board for j in board.judged}
    ran = set(work.sheet.running_states()) & {r.reading.state for r in log.counting(0)}
    shown = log.readings if whole else log.readings[-SHOWN:]
    charging = first_word(job, log, Scope.CHARGING) if ran else None
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
            "word": first_word(job, log),
            "charging": charging,
            "tests": other_tests(db, job, log),
            "todos": todo_list(work),
            "drains": [(epoch, found) for epoch in range(log.epoch + 1) if (found := drain_work(job, log, epoch)).entries],
            "drain_word": drain_word,
            "told": words.step(other.step) if (other := elsewhere(job, log)) else "",
        },
    )
