"""The day of a yard: what waits until when, and what fits into the minutes somebody has."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from iron_probe.core.guide.step import Act
from iron_probe.core.job.step import Due, JobStep

SHOWN = timedelta(hours=12)
"""How far ahead the day is drawn."""
STEP_MINUTES: dict[Act, float] = {
    Act.MEASURE: 4, Act.REPAIR: 30, Act.RETEST: 10, Act.TRY: 5, Act.CLOSE: 5, Act.LATCH: 5, Act.TOTAL: 3, Act.PROBE: 4, Act.RECORD: 10, Act.FEEDS: 6,
    Act.LOOK: 3,
}  # fmt: skip
"""What a step takes with walking to the machine and opening it [min] (chosen here); a wait is nobody's work."""


@dataclass(frozen=True, slots=True, kw_only=True)
class InHand:
    """A job in hand as the day sees it: its step, what it waits for, and whose hand it is in, empty where nobody's."""

    number: int
    machine: str
    page: str
    step: JobStep
    waits: tuple[Due, ...]
    last_at: datetime
    hand: str = ""


@dataclass(frozen=True, slots=True)
class Stretch:
    """A wait as it is drawn: the share of the day shown at which it ends; a due one ends at 0."""

    job: InHand
    wait: Due
    ends: float

    @property
    def due(self) -> bool:
        """Whether somebody must come now."""
        return self.ends <= 0


def stretches(jobs: Sequence[InHand], now: datetime) -> tuple[Stretch, ...]:
    """All waits, the soonest first; one that ends after the day shown ends at its edge."""
    found = [Stretch(job, wait, min(max((wait.until - now) / SHOWN, 0.0), 1.0)) for job in jobs for wait in job.waits]
    return tuple(sorted(found, key=lambda s: s.wait.until))


def minutes_of(step: JobStep) -> float | None:
    """What a step takes [min]; None where there is nothing to do but wait, or the job cannot be judged."""
    return STEP_MINUTES.get(step.act) if step.act else None


def fitting(jobs: Sequence[InHand], minutes: float, now: datetime, me: str) -> tuple[tuple[InHand, float], ...]:
    """What somebody may do with so many minutes, with what each takes: what is due first, then what one has in hand oneself, then what has lain
    longest. Jobs in another's hand and those that wait are left out."""
    fits = []
    for job in jobs:
        takes, due = minutes_of(job.step), [w for w in job.waits if w.until <= now]
        if takes is None and due:
            takes = STEP_MINUTES[Act.TOTAL]
        if takes is None or takes > minutes or (job.hand and job.hand != me) or len(due) < len(job.waits):
            continue
        fits.append(((not due, job.hand != me, job.last_at, job.number), job, takes))
    return tuple((job, takes) for _, job, takes in sorted(fits, key=lambda f: f[0]))
