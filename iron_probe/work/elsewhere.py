"""What a job comes to that is not worked by cranking: a drain, a fuse that blows, a charging system."""

from dataclasses import dataclass

from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import DrainLine
from iron_probe.core.job.step import JobStep, Stage
from iron_probe.work.charge_work import output_verdict
from iron_probe.work.drain_work import drain_word, drain_work

PAGE_OF = {"no_charge": "/charge", "overcharge": "/charge", "drain": "/drain", "fuse": "/fuse"}
"""The screen a complaint is worked on, where it is not the cranking."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Elsewhere:
    """The step of such a job and the page it is taken on."""

    step: JobStep
    page: str


def elsewhere(job: Job, log: JobLog) -> Elsewhere | None:
    """Step and page of such a job; None for any other."""
    if log.lines(DrainLine):
        return Elsewhere(step=JobStep(stage=Stage.DRAIN, told=drain_word(drain_work(job, log))), page="/drain")
    blown = log.tests("trip")
    counting = log.counting(log.epoch)
    if blown and not counting:
        subject = blown[-1][1].subject
        title = next((e.title for e in job.sheet.elements if e.id == subject), subject)
        return Elsewhere(step=JobStep(stage=Stage.FUSE, named=(title,)), page="/fuse")
    if not any(job.sheet.states[r.reading.state].cranking for r in counting) and (judged := output_verdict(job, counting)) is not None:
        return Elsewhere(step=JobStep(stage=Stage.CHARGE, told=f"{judged.text} {judged.next_step}".strip()), page="/charge")
    if not counting and job.symptom in PAGE_OF:
        return Elsewhere(step=JobStep(stage=Stage.BEGIN, complaint=job.symptom), page=PAGE_OF[job.symptom])
    return None
