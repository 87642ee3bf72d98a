"""What the Yard keeps of a job: worked out and written with each of its lines."""

import logging

from sqlmodel import Session

from iron_probe.core.bench.drop import LOADED, DropVerdict
from iron_probe.core.bench.drop_board import DropBoard
from iron_probe.core.circuit.elements import Element
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.guide.route import Concern
from iron_probe.core.job.confirmed import confirmed
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import ClosedLine, DrainLine, WaitLine
from iron_probe.core.job.step import Due, JobStep, SideBar, Summary, kept_step
from iron_probe.store import queries
from iron_probe.work.drop_work import work_of
from iron_probe.work.guide_work import awaits_engine, guide_of, page_of
from iron_probe.work.history import figures_now

MOST_WORDS = 20_000
"""Letters of a job that history looks through."""


def summary_of(job: Job, log: JobLog) -> Summary:
    """Work a job's summary out."""
    guide, work, repaired = guide_of(job, log), work_of(job, log), repaired_on(log, job.sheet)
    return Summary(
        step=kept_step(guide.step, job.sheet),
        awaits_engine=awaits_engine(job, log) and job.closed_at is None,
        page=page_of(job, guide.concern),
        sheet_title=job.sheet.title,
        symptom=job.symptom,
        count=sum(len(readings) for readings in log.by_epoch) + len(log.lines(DrainLine)),
        bars=bars_of(work.board) if work.board and guide.concern is Concern.STARTING else (),
        waits=waits_of(log),
        figures=figures_now(job, log),
        confirmed=tuple(sorted(confirmed(log, job.sheet))),
        repaired=tuple(e.title for e in repaired),
        parts=tuple(sorted({e.type for e in repaired})),
        ending=log.lines(ClosedLine)[-1][1].ending if job.closed_at and log.lines(ClosedLine) else None,
    )


def repaired_on(log: JobLog, sheet: Sheet) -> list[Element]:
    """The parts that were repaired, each once, as far as the circuit of today has them."""
    known = {e.id: e for e in sheet.elements}
    return [known[e] for e in dict.fromkeys(e for r in log.repairs for e in r.elements) if e in known]


def words_of(job: Job, log: JobLog) -> str:
    """What a job is found by: what intake said, what was done, and the parts it was done to or that were condemned."""
    said = [job.machine, job.sheet.title, job.complaint, job.circumstances, job.changed_before, job.replaced_before]
    done = [text for r in log.repairs for text in (r.text, r.fitted)] + [c.reason for c in log.condemned]
    titles = [e.title for e in repaired_on(log, job.sheet)]
    return "\n".join(filter(None, (*said, *done, *titles)))[:MOST_WORDS]


def bars_of(board: DropBoard) -> tuple[SideBar, ...]:
    """Each side's whole drop as a share of its allowance, where it was measured under load."""
    found = []
    for side in board.sides:
        newest = board.whole(side)
        proves = newest is not None and newest.verdict in LOADED
        found.append(
            SideBar(
                side=side.name, share=newest.share if newest and proves else None, over=bool(newest and newest.verdict is DropVerdict.OVER)
            )
        )
    return tuple(found)


def waits_of(log: JobLog) -> tuple[Due, ...]:
    """What a job waits for, soonest first; a wait is over for good once something was read after it was due, or it was ended: put down anew as
    due before that moment."""
    newest = {line.text: line for logged, line in log.lines(WaitLine)}  # a wait begun anew stands for the one before it
    ended = {line.text for logged, line in log.lines(WaitLine) if newest[line.text] is line and line.until <= logged.at}
    newest = {text: line for text, line in newest.items() if text not in ended}
    if not newest:
        return ()
    taken = [*(r.at for r in log.readings if r.counts), *(k.at for k, _ in log.lines(DrainLine))]
    last = max(taken, default=None)
    waits = (Due(text=w.text, until=w.until) for w in newest.values() if last is None or last < w.until)
    return tuple(sorted(waits, key=lambda w: w.until))


def keep_summary(session: Session, job: Job, log: JobLog) -> None:
    """Write a job's summary, from its log with the instruments' totals. One that cannot be judged is kept as such, and stops nothing else. Practice
    is no business of the Yard's: it has none."""
    if job.practice:
        return
    try:
        summary = summary_of(job, log)
    except Exception:
        logging.getLogger(__name__).exception("summary of job %d", job.number)
        summary = Summary(step=JobStep(), sheet_title=job.sheet.title, symptom=job.symptom, count=log.count)
    queries.keep_summary(
        session, job.id, number=job.number, machine=job.machine, kind=job.kind.lower(), closed=job.closed_at is not None, deleted=job.deleted_at is not None,
        last_at=log.last_at or job.created_at, facts=summary.model_dump(mode="json"), words=words_of(job, log),
    )  # fmt: skip
