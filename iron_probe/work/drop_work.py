"""A job's log put to the core: the drop work, and what is owed after a repair."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from iron_probe.core.bench.allowance import School
from iron_probe.core.bench.charging import room_v
from iron_probe.core.bench.drop import LOADED, DropReading
from iron_probe.core.bench.drop_board import DropBoard, cranks, drop_board, good_machine
from iron_probe.core.bench.retest import Compared, Retest, compare
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.job.fold import Condemned, JobLog, LoggedReading
from iron_probe.core.job.job import Job
from iron_probe.core.kept import Kept
from iron_probe.core.solve.solution import Symptom
from iron_probe.work.standing import standing


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """Everything the screens show of a job's drop work; `board` is None on a machine that has nothing to crank."""

    job: Job
    sheet: Sheet
    log: JobLog
    conditions: Conditions
    board: DropBoard | None
    compared: tuple[Compared, ...]

    @property
    def void(self) -> list[Condemned]:
        """Verdicts reached while a fault repaired since was still there: they are void and asked again."""
        mended = [(r.at, r.elements) for r in self.log.repairs]
        return [c for c in self.log.condemned if any(at > c.at and c.element not in elements for at, elements in mended)]

    @property
    def joint_cures(self) -> bool:
        """Whether several things were done with no reading between, so that none of them alone is proven the cure."""
        epochs = {epoch for epoch, readings in enumerate(self.log.by_epoch) if readings}
        return any(len(r.elements) > 1 for r in self.log.repairs) or any(r.epoch and r.epoch not in epochs for r in self.log.repairs)

    @property
    def owed(self) -> list[Compared]:
        """Retests still owed: of what was off before, and of the posts, which everything is read against."""
        posts = {self.sheet.plus, self.sheet.minus}
        return [c for c in self.compared if c.outcome is Retest.OPEN and (c.was_off or {c.red, c.black} == posts)]


def _drops(sheet: Sheet, readings: Sequence[LoggedReading]) -> list[DropReading]:
    return [
        DropReading(
            number=r.number,
            red=r.reading.red or "",
            black=r.reading.black or "",
            drop_v=r.reading.value or 0.0,
            loaded=sheet.state(r.reading.state).cranking,
            amps=r.reading.amps,
            crank=r.reading.crank,
        )
        for r in readings
        if r.across and r.reading.value is not None
    ]


def _posts_v(sheet: Sheet, readings: Sequence[LoggedReading]) -> float | None:
    posts = {sheet.plus, sheet.minus}
    found = [
        abs(r.reading.value)
        for r in readings
        if r.across and r.reading.value is not None and {r.reading.red, r.reading.black} == posts and sheet.state(r.reading.state).cranking
    ]
    return found[-1] if found else None


def _while_it_failed(readings: Sequence[LoggedReading]) -> Sequence[LoggedReading]:
    """Of a fault that comes and goes only what was read while it was there: a drop read in a crank that went well clears nothing."""
    fails = any(r.reading.heard not in (None, Symptom.CRANKS) for r in readings)
    return [r for r in readings if not (fails and r.reading.heard is Symptom.CRANKS)]


def board_of(job: Job, readings: Sequence[LoggedReading]) -> DropBoard | None:
    """The drop work of some of a job's readings, under the job's school and temperatures; None on a machine that has nothing to crank."""
    if not cranks(job.sheet):
        return None
    sheet, readings = job.sheet, _while_it_failed(readings)
    return drop_board(sheet, _drops(sheet, readings), _posts_v(sheet, readings), School(job.school), job.conditions, job.cold_degc)


def _compared(job: Job, log: JobLog) -> Iterator[Compared]:
    """Every loaded drop of the epochs before the last repair, against its latest repeat since."""
    if not log.epoch:
        return
    before, after = board_of(job, log.before(log.epoch)), board_of(job, log.counting(log.epoch))
    if before is not None and after is not None:
        repeats = {(j.reading.red, j.reading.black): j for j in after.judged}
        latest = {(j.reading.red, j.reading.black): j for j in before.judged if j.share and j.verdict in LOADED}
        for (red, black), j in latest.items():
            repeat = repeats.get((red, black))
            after_v = repeat.reading.drop_v if repeat is not None and repeat.verdict in LOADED else None
            yield compare(red, black, job.sheet.cranking_state() or "", j.reading.drop_v, after_v, j.allowance_v)
    yield from _compared_running(job, log)


def _compared_running(job: Job, log: JobLog) -> Iterator[Compared]:
    """Every voltage read with the engine running before the last repair, against its latest repeat since and the band of sound machines."""

    def latest(readings: Sequence[LoggedReading]) -> dict[tuple[str, str, str], float]:
        return {
            (r.reading.red or "", r.reading.black or "", r.reading.state): r.reading.value or 0.0
            for r in readings
            if r.across and job.sheet.states[r.reading.state].rpm
        }

    after = latest(log.counting(log.epoch))
    for place, before_v in latest(log.before(log.epoch)).items():
        good, low, high = good_machine(job.sheet, place[2], job.conditions).expected(*place[:2])
        room = room_v(good)
        yield compare(*place, before_v, after.get(place), high + room, low - room)


Standing = tuple[DropBoard | None, tuple[Compared, ...]]
_judged: Kept[tuple[object, ...], Standing] = Kept("drop work", 256)


def work_of(job: Job, log: JobLog) -> Work:
    """Put a job's present readings to the core; worked out once for a log as it stands."""

    def judged() -> Standing:
        return board_of(job, log.counting(log.epoch)), tuple(_compared(job, log))

    board, compared = _judged.get(standing(job, log), judged) if log.seq else judged()
    return Work(job=job, sheet=job.sheet, log=log, conditions=job.conditions, board=board, compared=compared)
