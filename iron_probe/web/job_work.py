"""A job's log put to the core: the drop work, what is owed after a repair, and the step to take now."""

from collections.abc import Iterator
from dataclasses import dataclass

from iron_probe.core.bench.allowance import School
from iron_probe.core.bench.charging import room_v
from iron_probe.core.bench.drop import DropReading
from iron_probe.core.bench.drop_board import DropBoard, drop_board, good_machine
from iron_probe.core.bench.retest import Compared, Outcome, compare
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.machines import load_sheet
from iron_probe.store.job_log import Condemned, JobLog, LoggedReading
from iron_probe.store.tables import Job


@dataclass(frozen=True, slots=True, kw_only=True)
class Work:
    """Everything the screens show of a job's drop work; `now` is the one sentence that says what to do."""

    job: Job
    sheet: Sheet
    log: JobLog
    conditions: Conditions
    board: DropBoard
    compared: tuple[Compared, ...]
    now: str
    stage: str

    @property
    def void(self) -> list[Condemned]:
        """Verdicts reached while a fault repaired since was still there: they are void and asked again."""
        mended = [(r.at, r.elements) for r in self.log.repairs]
        return [c for c in self.log.condemned if any(at > c.at and c.element not in elements for at, elements in mended)]

    @property
    def joint_cures(self) -> bool:
        """Whether several things were done with no reading between, so that none of them alone is proven the cure."""
        epochs = {r.epoch for r in self.log.readings if r.counts}
        return any(len(r.elements) > 1 for r in self.log.repairs) or any(r.epoch and r.epoch not in epochs for r in self.log.repairs)

    @property
    def owed(self) -> list[Compared]:
        """Retests still owed."""
        return [c for c in self.compared if c.outcome is Outcome.OPEN]


def conditions_of(job: Job) -> Conditions:
    """The temperature the job is worked at."""
    return Conditions(temp_degc=job.temp_degc)


def _drops(sheet: Sheet, readings: list[LoggedReading]) -> list[DropReading]:
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
        if r.reading.instrument is Instrument.VOLTMETER and r.reading.value is not None
    ]


def _posts_v(sheet: Sheet, readings: list[LoggedReading]) -> float | None:
    posts = {sheet.plus, sheet.minus}
    found = [
        abs(r.reading.value)
        for r in readings
        if r.reading.instrument is Instrument.VOLTMETER
        and r.reading.value is not None
        and {r.reading.red, r.reading.black} == posts
        and sheet.state(r.reading.state).cranking
    ]
    return found[-1] if found else None


def board_of(job: Job, sheet: Sheet, readings: list[LoggedReading]) -> DropBoard:
    """The drop work of some of a job's readings, under the job's school and temperatures."""
    return drop_board(sheet, _drops(sheet, readings), _posts_v(sheet, readings), School(job.school), conditions_of(job), job.cold_degc)


def _compared(job: Job, sheet: Sheet, log: JobLog) -> tuple[Compared, ...]:
    """Every loaded drop of the epochs before the last repair, against its latest repeat since."""
    if not log.epoch:
        return ()
    before = board_of(job, sheet, [r for r in log.readings if r.counts and r.epoch < log.epoch])
    after = {(j.reading.red, j.reading.black): j for j in board_of(job, sheet, log.counting(log.epoch)).judged}
    latest = {(j.reading.red, j.reading.black): j for j in before.judged if j.share and j.verdict.value in ("within", "over")}
    state = sheet.cranking_state() or ""
    found = []
    for (red, black), j in latest.items():
        repeat = after.get((red, black))
        after_v = None if repeat is None or repeat.verdict.value not in ("within", "over") else repeat.reading.drop_v
        found.append(compare(red, black, state, j.reading.drop_v, after_v, j.allowance_v))
    return (*found, *_compared_running(job, sheet, log))


def _compared_running(job: Job, sheet: Sheet, log: JobLog) -> Iterator[Compared]:
    """Every voltage read with the engine running before the last repair, against its latest repeat since and the band of sound machines."""

    def latest(readings: list[LoggedReading]) -> dict[tuple[str, str, str], float]:
        return {
            (r.reading.red or "", r.reading.black or "", r.reading.state): r.reading.value or 0.0
            for r in readings
            if r.reading.instrument is Instrument.VOLTMETER and sheet.states[r.reading.state].rpm
        }

    after = latest(log.counting(log.epoch))
    for place, before_v in latest([r for r in log.readings if r.counts and r.epoch < log.epoch]).items():
        good, low, high = good_machine(sheet, place[2], conditions_of(job)).expected(*place[:2])
        room = room_v(good)
        yield compare(*place, before_v, after.get(place), high + room, low - room)


def work_of(job: Job, log: JobLog) -> Work:
    """Put a job's present readings to the core and say what to do now."""
    sheet = load_sheet(job.sheet_id)
    board = board_of(job, sheet, log.counting(log.epoch))
    compared = _compared(job, sheet, log)
    stage, now = _next_step(job, sheet, log, board, compared)
    return Work(job=job, sheet=sheet, log=log, conditions=conditions_of(job), board=board, compared=compared, now=now, stage=stage)


def _next_step(job: Job, sheet: Sheet, log: JobLog, board: DropBoard, compared: tuple[Compared, ...]) -> tuple[str, str]:
    owed = [c for c in compared if c.outcome is Outcome.OPEN]
    culprits = board.culprits()
    if job.closed_at is not None:
        return "closed", "Closed. The report is ready."
    if log.epoch and owed:
        return "retest", f"Retest {len(owed)} reading{'s' if len(owed) != 1 else ''} taken before the repair."
    if culprits:
        named = ", ".join(sheet.element(board.element_of(j)).title for j in culprits)
        return "repair", f"{named}: over its share by its own test. Repair, then retest."
    if log.epoch and board.sound:
        return "prove", "Every reading repeated is within limit. Wiggle, crank again, then close."
    if board.next is not None:
        return "measure", f"Measure {sheet.point(board.next.red).title} to {sheet.point(board.next.black).title} while cranking."
    return "look", "Both sides within their share: battery and starter come next."
