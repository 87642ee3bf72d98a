"""A job's log read back: which readings count, which were withdrawn or corrected, and what each repair divides."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

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


Line = Annotated[ReadingLine | WithdrawLine | RepairLine | CondemnLine, Field(discriminator="kind")]
LINE: TypeAdapter[ReadingLine | WithdrawLine | RepairLine | CondemnLine] = TypeAdapter(Line)


@dataclass(frozen=True, slots=True, kw_only=True)
class LoggedReading:
    """A reading with its number in the job, the epoch it belongs to, and why it does not count, if so."""

    id: UUID
    number: int
    epoch: int
    at: datetime
    reading: Reading
    typed: str
    corrects: int | None = None
    withdrawn: bool = False
    corrected_by: int | None = None

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
class JobLog:
    """The log as it stands now. `last` is the newest line that undo would take back, `withdrawn` the newest that redo would restore."""

    readings: tuple[LoggedReading, ...] = ()
    repairs: tuple[LoggedRepair, ...] = ()
    condemned: tuple[Condemned, ...] = ()
    epoch: int = 0
    last: UUID | None = None
    redo: UUID | None = None

    def counting(self, epoch: int) -> list[LoggedReading]:
        """The readings of an epoch that count, in the order they were taken."""
        return [r for r in self.readings if r.counts and r.epoch == epoch]


@dataclass(slots=True)
class _Entry:
    id: UUID
    at: datetime
    line: ReadingLine | WithdrawLine | RepairLine | CondemnLine
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
    number_of = {e.id: n for n, e in enumerate((e for e in entries if isinstance(e.line, ReadingLine)), start=1)}
    corrected = {
        e.line.corrects: number_of[e.id] for e in entries if isinstance(e.line, ReadingLine) and e.line.corrects and e.withdrawn_by is None
    }
    readings, repairs, condemned, epoch = [], [], [], 0
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
        elif isinstance(line, RepairLine) and entry.withdrawn_by is None:
            repairs.append(LoggedRepair(id=entry.id, at=entry.at, text=line.text, elements=tuple(line.elements), epoch=epoch))
            epoch += 1
        elif isinstance(line, CondemnLine) and entry.withdrawn_by is None:
            condemned.append(Condemned(id=entry.id, at=entry.at, element=line.element, proven=line.proven, reason=line.reason))
    standing = [e for e in entries if e.withdrawn_by is None and not isinstance(e.line, WithdrawLine)]
    newest = entries[-1] if entries else None
    undone = newest.line.entry if newest and isinstance(newest.line, WithdrawLine) else None
    newest_is_undo = undone in by_id and not isinstance(by_id[undone].line, WithdrawLine)
    return JobLog(
        readings=tuple(readings),
        repairs=tuple(repairs),
        condemned=tuple(condemned),
        epoch=epoch,
        last=standing[-1].id if standing else None,
        redo=newest.id if newest and newest_is_undo else None,
    )
