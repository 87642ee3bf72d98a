"""A stream of figures kept as it comes: as a capture of its job in plain CSV, or as totals of a drain that is watched."""

import contextlib
from dataclasses import dataclass, field
from uuid import UUID, uuid4

from sqlalchemy import func
from sqlmodel import Session, col, select

from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.core.job.job import Job
from iron_probe.core.meters.measured import FOUR_WIRE_OHM, Measured, last_digit
from iron_probe.core.trace.layout import Channel, Layout, Role
from iron_probe.instruments.messages import Shown
from iron_probe.store import captures, meters
from iron_probe.store.meters import MeterRow, MeterUse
from iron_probe.store.tables import Capture, UploadBlock
from iron_probe.work.instrument import log_instrument_total
from iron_probe.work.jobs import find_job

RECORDING = "recording"
"""Status of a capture that a meter still writes."""
WRITE_EVERY_S = 5.0
"""What comes is written down this often [s]: as much is lost where the app is killed in the middle of it."""
WATCH_EVERY_S = 10.0
"""A watched drain gets a total this often [s], the mean since the one before."""
LONGEST_S = 24 * 3600.0
"""A record takes no more after so long [s]."""
MOST_WAITING = 50_000
"""Lines that wait while the database is away; what comes beyond them is not in the record."""
HEAD = "seconds,{}\n"


def begin_record(session: Session, job: Job, meter_id: UUID) -> UUID:
    """Begin a record of a meter that is used on a job. ReadingError where it is used no more, or one runs already."""
    row = meters.use_of(session, job.id, meter_id)
    if row is None or row.capture_id is not None:
        raise ReadingError("That meter is not in use here, or is recorded already: look at the meters of this job again")
    meter, measured = session.get_one(MeterRow, meter_id), Measured(row.measured)
    role, unit = (Role.AMPS, "A") if measured is Measured.AMPS else (Role.VOLTS, "V")
    if measured is Measured.OHMS:
        raise ReadingError("Ohms are not recorded: set the meter to volts or amps")
    layout = Layout(columns=2, skip=1, channels=(Channel(column=1, name=meter.name, role=role),))
    capture = Capture(
        id=uuid4(), job_id=job.id, filename=f"{meter.name}.csv", size_bytes=0, status=RECORDING, layout=layout.model_dump(mode="json")
    )
    captures.add_upload(session, capture, [HEAD.format(unit).encode()])
    row.capture_id, row.recorded_from = capture.id, capture.at
    session.add(row)
    meters.tell(session, job.number)
    session.commit()
    return capture.id


def end_record(session: Session, job: Job, meter_id: UUID) -> UUID | None:
    """End a record; whoever writes it notices and has it read. The capture's id, which nobody writes where the meter's agent is away."""
    row = meters.use_of(session, job.id, meter_id)
    if row is None or row.capture_id is None:
        return None
    ended, row.capture_id, row.recorded_from = row.capture_id, None, None
    session.add(row)
    meters.tell(session, job.number)
    session.commit()
    return None if session.get_one(MeterRow, meter_id).joined else ended


def to_be_read(session: Session, capture_id: UUID) -> bool:
    """Have a record that has ended read like any capture; whether there is anything to read."""
    row = session.get(Capture, capture_id)
    if row is None or row.status != RECORDING:
        return False
    row.size_bytes = (
        session.exec(select(func.sum(func.length(UploadBlock.data))).where(col(UploadBlock.capture_id) == capture_id)).one() or 0
    )
    row.status, row.message = "reading", ""
    captures.save(session, row)
    return True


@dataclass(slots=True)
class Keeper:
    """What is kept of one stream: its record while `capture` is set, from `since` on [s since 1970], its totals while it `watches`. Constant memory: what has come is
    written every few seconds by `write`."""

    job: int
    measured: Measured
    four_wire: bool = False
    capture: UUID | None = None
    watches: bool = False
    since: float = 0.0
    _lines: list[str] = field(default_factory=list)
    _written: float = 0.0
    _totalled: float = 0.0
    _sum: float = 0.0
    _count: int = 0

    def set_as(self, use: MeterUse) -> UUID | None:
        """Go on as a use is now set; the capture that ended with that, if one did."""
        ended = self.capture if self.capture is not None and self.capture != use.capture_id else None
        self.capture, self.watches, self.measured = use.capture_id, use.watches, Measured(use.measured)
        self.since = use.recorded_from.timestamp() if use.recorded_from else 0.0
        return ended

    def take(self, shown: Shown) -> None:
        """Keep what came."""
        for at, value in zip(shown.at, shown.values, strict=False):
            if self.capture is not None and len(self._lines) < MOST_WAITING and 0 <= at - self.since <= LONGEST_S:
                self._lines.append(f"{at - self.since:.3f},{'' if value is None else f'{value:g}'}\n")
            if self.watches and value is not None:
                self._sum, self._count = self._sum + value, self._count + 1

    def is_due(self, now_s: float) -> bool:
        """Whether `write` has something to do."""
        return bool(self._lines and now_s - self._written >= WRITE_EVERY_S) or bool(self._count and now_s - self._totalled >= WATCH_EVERY_S)

    def write(self, session: Session, now_s: float, *, last: UUID | None = None) -> None:
        """Write what has come: the record's lines to `last` where that ended, else to the one that runs; a total where one is due."""
        count, capture = len(self._lines), last or self.capture
        if count and capture is not None:
            number = session.exec(select(func.max(UploadBlock.number)).where(col(UploadBlock.capture_id) == capture)).one()
            session.add(UploadBlock(capture_id=capture, number=(number or 0) + 1, data="".join(self._lines[:count]).encode()))
            session.commit()
        del self._lines[:count]  # only now: what could not be written waits for the next turn
        self._written = now_s
        if self._count and now_s - self._totalled >= WATCH_EVERY_S:
            mean, job = self._sum / self._count, find_job(session, self.job)
            if job is not None:
                with contextlib.suppress(IronProbeError):  # a job closed meanwhile takes none
                    log_instrument_total(session, job, mean, self.step(mean), series=False)
            self._sum, self._count, self._totalled = 0.0, 0, now_s

    def step(self, value: float) -> float:
        """One step of what it shows."""
        return FOUR_WIRE_OHM if self.four_wire and self.measured is Measured.OHMS else last_digit(self.measured, value)
