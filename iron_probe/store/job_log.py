"""A job's log read back: which readings count, which were withdrawn or corrected, and what each repair divides."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Annotated, Any, Literal, TypeVar
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from iron_probe.core.bench.drain.currents import Way
from iron_probe.core.diagnose.evidence import Reading


class _Line(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ReadingLine(_Line):
    """A reading taken, as typed and as understood; `corrects` is the id of the line it replaces."""

    kind: Literal["reading"] = "reading"
    reading: Reading
    typed: str
    corrects: UUID | None = None


class WithdrawLine(_Line):
    """Undo: the named line no longer counts (or counts again, when the named line is itself a withdrawal)."""

    kind: Literal["withdraw"] = "withdraw"
    entry: UUID


class RepairLine(_Line):
    """Something was repaired or replaced; readings before it belong to the machine as it was."""

    kind: Literal["repair"] = "repair"
    text: str
    elements: list[str] = []


class CondemnLine(_Line):
    """A part marked bad; `reason` is asked for while power, ground and command at it are not proven under load."""

    kind: Literal["condemn"] = "condemn"
    element: str
    proven: bool
    reason: str = ""


class TestLine(_Line):
    """A test made on a screen of its own: `screen` it belongs to, its `subject` there (a battery, a capture, a check), the `test`,
    what was `typed`, and the readings it leaves as evidence."""

    __test__ = False
    kind: Literal["test"] = "test"
    screen: Literal["battery", "capture", "check", "stator", "bus", "drain", "trip"]
    subject: str
    test: str
    typed: dict[str, str] = {}
    readings: list[Reading] = []


class CodeLine(_Line):
    """A trouble code noted by hand from a scan tool; `elements` are the parts of the sheet it names."""

    kind: Literal["code"] = "code"
    code: str
    text: str = ""
    module: str = ""
    active: bool = False
    elements: list[str] = []


class TickLine(_Line):
    """A point of the after-repair list, done or not."""

    kind: Literal["tick"] = "tick"
    item: str
    done: bool = True


class WaitLine(_Line):
    """Something that takes time: what for, and until when."""

    kind: Literal["wait"] = "wait"
    text: str
    until: datetime


class DrainLine(_Line):
    """A current of the sleeping machine: `where` (a stretch, a consumer or the total) and the `way` it was come by, as `typed`; `value` in V
    across a fuse, else in A; of a pulled fuse or parted plug the total `before_a` and the `value` after. `part_of`: a clamp round one
    of several ground cables."""

    kind: Literal["drain"] = "drain"
    where: str
    way: Way
    typed: str
    value: float
    resolution: float
    before_a: float | None = None
    part_of: bool = False


class MarkLine(_Line):
    """What was done to the machine while it slept: latched, locked, a door opened (the wait begins anew), a load switched on on purpose
    (`amps` booked from then on) or off again."""

    kind: Literal["mark"] = "mark"
    what: Literal["latched", "locked", "opened", "booked", "unbooked"]
    text: str = ""
    amps: float = 0.0


Kind = TestLine | CodeLine | TickLine | WaitLine | DrainLine | MarkLine
Other = TypeVar("Other", bound=Kind)
AnyLine = ReadingLine | WithdrawLine | RepairLine | CondemnLine | TestLine | CodeLine | TickLine | WaitLine | DrainLine | MarkLine
Line = Annotated[AnyLine, Field(discriminator="kind")]
LINE: TypeAdapter[AnyLine] = TypeAdapter(Line)


@dataclass(frozen=True, slots=True, kw_only=True)
class LoggedReading:
    """A reading with its number in the job, the epoch it belongs to, why it does not count, if so, and the screen whose test left it."""

    id: UUID
    number: int
    epoch: int
    at: datetime
    reading: Reading
    typed: str
    corrects: int | None = None
    withdrawn: bool = False
    corrected_by: int | None = None
    screen: str = ""

    @property
    def counts(self) -> bool:
        return not self.withdrawn and self.corrected_by is None


@dataclass(frozen=True, slots=True, kw_only=True)
class LoggedRepair:
    """A repair; `epoch` is the one it closes."""

    id: UUID
    at: datetime
    text: str
    elements: tuple[str, ...]
    epoch: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Condemned:
    """A part marked bad, with what that rests on."""

    id: UUID
    at: datetime
    element: str
    proven: bool
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Kept:
    """A line of another kind that stands: a test, a code, a tick, a wait; `first` is the number of the first reading it left, if any."""

    id: UUID
    at: datetime
    epoch: int
    line: Kind
    first: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class JobLog:
    """The log as it stands now. `last` is the newest line that undo would take back, `withdrawn` the newest that redo would restore."""

    readings: tuple[LoggedReading, ...] = ()
    repairs: tuple[LoggedRepair, ...] = ()
    condemned: tuple[Condemned, ...] = ()
    others: tuple[Kept, ...] = ()
    epoch: int = 0
    last: UUID | None = None
    redo: UUID | None = None

    def counting(self, epoch: int) -> list[LoggedReading]:
        """The readings of an epoch that count, in the order they were taken."""
        return [r for r in self.readings if r.counts and r.epoch == epoch]

    def tests(self, screen: str) -> list[tuple[Kept, TestLine]]:
        """The tests of a screen that stand, oldest first."""
        return [(k, k.line) for k in self.others if isinstance(k.line, TestLine) and k.line.screen == screen]

    def lines(self, kind: type[Other]) -> list[tuple[Kept, Other]]:
        """Other lines of a kind that stand, oldest first."""
        return [(k, k.line) for k in self.others if isinstance(k.line, kind)]


TAKEN_WHOLE = ("stator",)
"""Screens whose form is sent whole each time: the newest of an epoch stands for those before it."""


@dataclass(slots=True)
class _Entry:
    id: UUID
    at: datetime
    line: AnyLine
    withdrawn_by: UUID | None = field(default=None)


def read_log(rows: Sequence[tuple[UUID, datetime, str, dict[str, Any]]]) -> JobLog:
    """Fold the lines (id, time, kind, payload), oldest first, into the job as it stands."""
    entries = [_Entry(i, at, LINE.validate_python({**payload, "kind": kind})) for i, at, kind, payload in rows]
    by_id = {e.id: e for e in entries}
    for entry in entries:  # a withdrawal of a withdrawal gives the first line back
        if isinstance(entry.line, WithdrawLine) and entry.line.entry in by_id:
            target = by_id[entry.line.entry]
            target.withdrawn_by = entry.id
            if isinstance(target.line, WithdrawLine) and target.line.entry in by_id:
                by_id[target.line.entry].withdrawn_by = None
    number_of, next_number = {}, 1
    for entry in entries:  # a test that leaves several readings takes as many numbers
        if isinstance(entry.line, ReadingLine | TestLine):
            number_of[entry.id] = next_number
            next_number += len(entry.line.readings) if isinstance(entry.line, TestLine) else 1
    corrected = {
        e.line.corrects: number_of[e.id] for e in entries if isinstance(e.line, ReadingLine) and e.line.corrects and e.withdrawn_by is None
    }
    readings, repairs, condemned, others, epoch = [], [], [], [], 0
    for entry in entries:
        line = entry.line
        if isinstance(line, ReadingLine):
            readings.append(
                LoggedReading(
                    id=entry.id,
                    number=number_of[entry.id],
                    epoch=epoch,
                    at=entry.at,
                    reading=line.reading,
                    typed=line.typed,
                    corrects=number_of.get(line.corrects) if line.corrects else None,
                    withdrawn=entry.withdrawn_by is not None,
                    corrected_by=corrected.get(entry.id),
                )
            )
        elif isinstance(line, TestLine):
            readings += [
                LoggedReading(
                    id=entry.id, number=number_of[entry.id] + k, epoch=epoch, at=entry.at, reading=reading,
                    typed=f"{line.screen}, {line.test}", screen=line.screen, withdrawn=entry.withdrawn_by is not None,
                )
                for k, reading in enumerate(line.readings)
            ]  # fmt: skip
        elif isinstance(line, RepairLine) and entry.withdrawn_by is None:
            repairs.append(LoggedRepair(id=entry.id, at=entry.at, text=line.text, elements=tuple(line.elements), epoch=epoch))
            epoch += 1
        elif isinstance(line, CondemnLine) and entry.withdrawn_by is None:
            condemned.append(Condemned(id=entry.id, at=entry.at, element=line.element, proven=line.proven, reason=line.reason))
        if isinstance(line, Kind) and entry.withdrawn_by is None:
            others.append(Kept(id=entry.id, at=entry.at, epoch=epoch, line=line, first=number_of.get(entry.id)))
    whole = {(r.epoch, r.screen): r.id for r in readings if r.screen in TAKEN_WHOLE and not r.withdrawn}
    first = {r.id: r.number for r in reversed(readings)}
    readings = [
        replace(r, corrected_by=first[newest_id]) if (newest_id := whole.get((r.epoch, r.screen), r.id)) != r.id else r for r in readings
    ]
    standing = [e for e in entries if e.withdrawn_by is None and not isinstance(e.line, WithdrawLine)]
    newest = entries[-1] if entries else None
    undone = newest.line.entry if newest and isinstance(newest.line, WithdrawLine) else None
    newest_is_undo = undone in by_id and not isinstance(by_id[undone].line, WithdrawLine)
    return JobLog(
        readings=tuple(readings),
        repairs=tuple(repairs),
        condemned=tuple(condemned),
        others=tuple(others),
        epoch=epoch,
        last=standing[-1].id if standing else None,
        redo=newest.id if newest and newest_is_undo else None,
    )
