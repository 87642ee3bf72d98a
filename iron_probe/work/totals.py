"""The totals a logging instrument sent, among a job's lines: thinned to those that tell something, where they are judged and drawn."""

from sqlmodel import Session

from iron_probe.core.bench.drain.currents import TOTAL, Way
from iron_probe.core.job.fold import JobLog, KeptLine
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import DrainLine
from iron_probe.store import queries


def with_totals(session: Session, job: Job, log: JobLog) -> JobLog:
    """A job's log with the telling instrument totals among its lines, in the order of their time."""
    sent = queries.telling_totals(session, job.id)
    if not sent:
        return log
    repaired = sorted(r.at for r in log.repairs)
    totals = [
        KeptLine(
            id=t.id,
            at=t.at,
            epoch=sum(at <= t.at for at in repaired),
            line=DrainLine(
                where=TOTAL, way=Way.SERIES if t.series else Way.CLAMP, typed=f"{1000 * t.amps:.1f} mA, instrument", value=t.amps,
                resolution=t.resolution_a,
            ),
        )
        for t in sent
    ]  # fmt: skip
    return log.with_others(tuple(sorted((*log.others, *totals), key=lambda k: k.at)))
