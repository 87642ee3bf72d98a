"""The replay of a drain hunted in the practice bay: what was known before each probe, which the engine would have made, and how many it takes by itself."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime, timedelta
from uuid import uuid4

from iron_probe.bay.in_bay import InBay
from iron_probe.bay.marks import PROBE_MINUTES
from iron_probe.bay.replay import MOST_STEPS, MOST_TESTS, SHOWN, Probed, ProbeStep, moved
from iron_probe.core.bench.drain.currents import TOTAL, Way
from iron_probe.core.bench.typed_value import parse_bare
from iron_probe.core.guide.step import Act, GuideStep
from iron_probe.core.job.fold import JobLog, KeptLine
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import DrainLine, MarkLine
from iron_probe.work.drain_work import DrainWork, drain_work
from iron_probe.work.guide_work import guide_of

APART_S = 20.0
"""The engine's own probes follow each other so closely [s]."""
LOCKED = timedelta(days=1)


def probed(job: Job, log: JobLog) -> tuple[ProbeStep, ...]:
    """Go through the probes of a job up to its first repair."""
    first = _only(log, [k for k in log.others if k.epoch == 0])
    steps, open_ = list[ProbeStep](), replace(job, closed_at=None)
    for place, kept in enumerate(first.others):
        if isinstance(line := kept.line, DrainLine) and len(steps) < MOST_STEPS:
            before, after = (_only(first, first.others[:until]) for until in (place, place + 1))
            known, now = (_shares(drain_work(open_, seen)) for seen in (before, after))
            steps.append(
                ProbeStep(
                    number=len(steps) + 1,
                    known=tuple((where, round(p, 3)) for where, p in sorted(known.items(), key=lambda s: -s[1])[:SHOWN] if p > 0),
                    best=_asked(guide_of(open_, before).step),
                    did=Probed(where=line.where, way=line.way, typed=line.typed, minutes=PROBE_MINUTES),
                    told_bits=0.0 if line.where == TOTAL else round(moved(known, now), 3),
                )
            )
    return tuple(steps)


def par(job: Job, log: JobLog, bay: InBay) -> tuple[float | None, int]:
    """Minutes [min] and probes the guide takes on a machine that sleeps, a total after each, until it names what draws; no minutes where it names
    nothing that does."""
    open_, at = replace(job, closed_at=None), job.created_at
    kept = [
        _kept(at, MarkLine(what="locked", ago_minutes=LOCKED.total_seconds() / 60)),
        _kept(at, _read(open_, bay, TOTAL, Way.CLAMP, None)),
    ]
    for _ in range(MOST_TESTS):
        seen = _only(log, kept)
        step = guide_of(open_, seen).step
        if step.act is Act.REPAIR:
            bay.mend(list(step.parts))
        if step.act is not Act.PROBE or step.probe is None:
            break
        present = drain_work(open_, seen).present
        before_a = present.amps.best if present and present.amps else None
        for where, way in ((step.probe.where, step.probe.way), (TOTAL, Way.CLAMP)):
            at += timedelta(seconds=APART_S)
            kept.append(_kept(at, _read(open_, bay, where, way, before_a)))
    tests = sum(isinstance(k.line, DrainLine) for k in kept)
    return (None if bay.faults else tests * PROBE_MINUTES), tests


def _only(log: JobLog, others: Sequence[KeptLine]) -> JobLog:
    """A log as it stood with these lines, before anything was repaired."""
    return replace(log, readings=tuple(r for r in log.readings if r.epoch == 0), repairs=(), epoch=0, others=tuple(others), seq=0)


def _kept(at: datetime, line: MarkLine | DrainLine) -> KeptLine:
    return KeptLine(id=uuid4(), at=at, epoch=0, line=line, seq=0)


def _read(job: Job, bay: InBay, where: str, way: Way, before_a: float | None) -> DrainLine:
    """A probe as it is typed of the machine."""
    typed = f"{1000 * bay.total_a():.0f} mA" if where == TOTAL else bay.probed(where, way)
    quantity = parse_bare(typed, *(("mV", "V") if way is Way.DROP else ("mA", "A")))
    falls = way in (Way.PULL, Way.PART)
    return DrainLine(
        where=where, way=way, typed=typed, value=abs(quantity.value), resolution=quantity.resolution, before_a=before_a if falls else None
    )  # fmt: skip


def _asked(step: GuideStep) -> Probed | None:
    """The probe that a step asks for."""
    if step.probe is not None:
        return Probed(where=step.probe.where, way=step.probe.way, minutes=round(step.probe.minutes, 1))
    return Probed(where=TOTAL, way=Way.CLAMP, minutes=PROBE_MINUTES) if step.act is Act.TOTAL else None


def _shares(work: DrainWork) -> dict[str, float]:
    """Share of the excess by where it is drawn; nothing where no excess is known yet."""
    if work.level_a is None:
        return {}
    return {c.branch: s for c, s in zip(work.tree.consumers, work.finding.share, strict=True)}
