"""A job's log folded into the job as it stands: which readings count, what was withdrawn or corrected, what each repair divides.

`Fold` takes lines one after the other; the cost of one more line does not hang on how many came before, but for the taking back of
a repair, which moves every reading behind it to another epoch.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any, TypeVar
from uuid import UUID

from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.job.fits import ANY, Fits
from iron_probe.core.job.lines import (
    LINE,
    AnyLine,
    CondemnLine,
    Kind,
    KnownLine,
    ReadingLine,
    RepairLine,
    Taken,
    TestLine,
    WithdrawLine,
)

Other = TypeVar("Other", bound=Kind)

TAKEN_WHOLE = ("stator",)
"""Screens whose form is sent whole each time: the newest of an epoch stands for those before it."""
LOOKS = 4
"""Looks at one place in one state that count: of more, the newest stand for those before them, so that judging a long log costs what a short one does."""

Row = tuple[UUID, int, datetime, str, dict[str, Any]]
"""A line as kept: id, place in the order of all lines, time, kind, payload."""


@dataclass(frozen=True, slots=True, kw_only=True)
class LoggedReading:
    """A reading with its number in the job, the epoch it belongs to, why it does not count, if so, the screen whose test left it and the meter that sent it.

    `aside`: it names a point, state or part that the drawing of today does not have.
    """

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
    meter: str = ""
    aside: bool = False

    @property
    def counts(self) -> bool:
        return not self.withdrawn and self.corrected_by is None and not self.aside

    @property
    def across(self) -> bool:
        """Whether it is volts between two points of the machine as it is drawn, with what lies beside a part: not those with both probes on the part
        itself, nor with a charger on or a part out."""
        return self.reading.instrument is Instrument.VOLTMETER and self.reading.itself is None and not self.reading.conditioned


def newest_volts(counting: Sequence[LoggedReading], leads: set[str], state: str) -> LoggedReading | None:
    """The newest voltage across two points in a state."""
    volts = (r for r in reversed(counting) if r.across and r.reading.state == state)
    return next((r for r in volts if {r.reading.red, r.reading.black} == leads), None)


@dataclass(frozen=True, slots=True, kw_only=True)
class LoggedRepair:
    """A repair; `epoch` is the one it closes."""

    id: UUID
    at: datetime
    text: str
    elements: tuple[str, ...]
    epoch: int
    fitted: str = ""
    minutes: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Condemned:
    """A part marked bad, with what that rests on."""

    id: UUID
    at: datetime
    element: str
    proven: bool
    reason: str


@dataclass(frozen=True, slots=True, kw_only=True)
class KeptLine:
    """A line of another kind that stands: a test, a code, a tick, a wait; `first` is the number of the first reading it left, if any,
    `seq` its place in the log, None where it is no line of it but was sent by an instrument."""

    id: UUID
    at: datetime
    epoch: int
    line: Kind
    first: int | None = None
    seq: int | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class JobLog:
    """The log as it stands now. `last` is the newest line that undo would take back, `redo` the withdrawal that redo would take back,
    `attempts` the number of the newest attempt at each state, `seq` the place of the newest line; `by_epoch` the readings that count, by epoch."""

    readings: tuple[LoggedReading, ...] = ()
    repairs: tuple[LoggedRepair, ...] = ()
    condemned: tuple[Condemned, ...] = ()
    others: tuple[KeptLine, ...] = ()
    by_epoch: tuple[tuple[LoggedReading, ...], ...] = ((),)
    epoch: int = 0
    attempts: Mapping[str, int] = field(default_factory=dict)
    last: UUID | None = None
    redo: UUID | None = None
    seq: int = 0
    count: int = 0
    last_at: datetime | None = None

    def counting(self, epoch: int) -> tuple[LoggedReading, ...]:
        """The readings of an epoch that count, in the order they were taken; at most `LOOKS` of one place and state."""
        return self.by_epoch[epoch] if epoch < len(self.by_epoch) else ()

    def before(self, epoch: int) -> tuple[LoggedReading, ...]:
        """The readings of all epochs before one that count."""
        return tuple(r for readings in self.by_epoch[:epoch] for r in readings)

    def standing(self, named: str) -> UUID | None:
        """The id of a reading or another line that was not withdrawn, by its text; None where no such line stands."""
        lines = (*(r.id for r in self.readings if not r.withdrawn), *(k.id for k in self.others))
        return next((line for line in lines if str(line) == named), None)

    def tests(self, screen: str) -> list[tuple[KeptLine, TestLine]]:
        """The tests of a screen that stand, oldest first."""
        return [(k, k.line) for k in self.others if isinstance(k.line, TestLine) and k.line.screen == screen]

    def newest_test(self, screen: str) -> tuple[KeptLine, TestLine] | None:
        """The newest test of a screen in this epoch; None where there is none."""
        return next(((k, line) for k, line in reversed(self.tests(screen)) if k.epoch == self.epoch), None)

    def lines(self, kind: type[Other]) -> list[tuple[KeptLine, Other]]:
        """Other lines of a kind that stand, oldest first."""
        return [(k, k.line) for k in self.others if isinstance(k.line, kind)]

    def with_others(self, others: "tuple[KeptLine, ...]") -> "JobLog":
        """This log with other lines of the kinds that are no readings."""
        return replace(self, others=others)

    @property
    def marks(self) -> dict[str, str]:
        """What is known of elements: the newest mark of each, `absent` among them."""
        said = {line.element: line.mark for _, line in self.lines(KnownLine)}
        return {element: mark for element, mark in said.items() if mark}

    @property
    def absent(self) -> list[str]:
        """Elements this machine does not have."""
        return [element for element, mark in self.marks.items() if mark == "absent"]


@dataclass(slots=True)
class _Entry:
    id: UUID
    seq: int
    at: datetime
    line: AnyLine
    withdrawn_by: UUID | None = None
    place: int = -1


def _look(r: LoggedReading) -> tuple[object, ...]:
    """Readings of one look stand for each other: same instrument, same place, same state."""
    taken = r.reading
    return (taken.instrument, taken.red, taken.black, taken.branch, taken.state, r.screen)


@dataclass(slots=True)
class Fold:
    """Lines folded one after the other; `log` gives the job as it stands on the circuit that `fits` speaks for."""

    fits: Fits = ANY
    _lines: dict[UUID, _Entry] = field(default_factory=dict)
    _order: list[_Entry] = field(default_factory=list)
    _readings: list[LoggedReading] = field(default_factory=list)
    _repairs: list[LoggedRepair] = field(default_factory=list)
    _condemned: list[Condemned] = field(default_factory=list)
    _others: list[KeptLine] = field(default_factory=list)
    _counting: list[dict[tuple[object, ...], list[LoggedReading]]] = field(default_factory=lambda: [{}])
    _whole: dict[tuple[int, str], UUID] = field(default_factory=dict)
    _attempts: dict[str, int] = field(default_factory=dict)
    _log: JobLog | None = None

    @property
    def seq(self) -> int:
        """Place of the newest line taken in; 0 before any."""
        return self._order[-1].seq if self._order else 0

    @property
    def log(self) -> JobLog:
        """The job as it stands."""
        if self._log is None:
            last = next((e for e in reversed(self._order) if e.withdrawn_by is None and not isinstance(e.line, WithdrawLine)), None)
            newest = self._order[-1] if self._order else None
            undone = self._lines.get(newest.line.entry) if newest and isinstance(newest.line, WithdrawLine) else None
            redo = newest.id if newest and undone and not isinstance(undone.line, WithdrawLine) else None
            self._log = JobLog(
                readings=tuple(self._readings), repairs=tuple(self._repairs), condemned=tuple(self._condemned), others=tuple(self._others),
                by_epoch=tuple(tuple(sorted((r for looks in by.values() for r in looks), key=lambda r: r.number)) for by in self._counting),
                epoch=len(self._repairs), attempts=dict(self._attempts), last=last.id if last else None, redo=redo, seq=self.seq,
                count=len(self._order), last_at=max((e.at for e in self._order[-50:]), default=None),
            )  # fmt: skip
        return self._log

    def holds(self, entry_id: UUID) -> bool:
        """Whether a line of that id was taken in."""
        return entry_id in self._lines

    def lines(self) -> list[tuple[UUID, int, datetime, AnyLine]]:
        """Every line taken in, oldest first: enough to fold the job anew."""
        return [(e.id, e.seq, e.at, e.line) for e in self._order]

    def take(self, rows: Iterable[Row]) -> "Fold":
        """Take lines in, in their order. Gives itself back."""
        for entry_id, seq, at, kind, payload in rows:
            self.take_line(entry_id, seq, at, LINE.validate_python({**payload, "kind": kind}))
        return self

    def take_line(self, entry_id: UUID, seq: int, at: datetime, line: AnyLine) -> None:
        """Take one line in that was read already."""
        self._log = None
        entry = _Entry(entry_id, seq, at, line)
        self._lines[entry_id] = entry
        self._order.append(entry)
        if isinstance(line, WithdrawLine):
            self._withdraw(entry, line)
        else:
            self._place(entry)

    def _withdraw(self, entry: _Entry, line: WithdrawLine) -> None:
        target = self._lines.get(line.entry)
        if target is None:
            return
        target.withdrawn_by = entry.id
        changed = target
        if isinstance(target.line, WithdrawLine):  # a withdrawal of a withdrawal gives the first line back
            first = self._lines.get(target.line.entry)
            if first is None:
                return
            first.withdrawn_by = None
            changed = first
        if isinstance(changed.line, ReadingLine) and changed.line.corrects is None:
            self._change(changed.place, withdrawn=changed.withdrawn_by is not None)
        else:
            self._again()

    def _again(self) -> None:
        """Fold all lines anew: one that others hang on was taken back or given back."""
        self._readings, self._repairs, self._condemned, self._others = [], [], [], []
        self._counting, self._whole, self._attempts = [{}], {}, {}
        for entry in self._order:
            if not isinstance(entry.line, WithdrawLine):
                self._place(entry)

    def _place(self, entry: _Entry) -> None:
        line, withdrawn, epoch = entry.line, entry.withdrawn_by is not None, len(self._repairs)
        entry.place = len(self._readings)
        at, first = entry.at, None
        if isinstance(line, Taken):
            at = line.read_at or entry.at
        if isinstance(line, ReadingLine):
            old = self._lines.get(line.corrects) if line.corrects else None
            self._add(
                LoggedReading(
                    id=entry.id, number=entry.place + 1, epoch=epoch, at=at, reading=line.reading, typed=line.typed,
                    corrects=old.place + 1 if old else None, withdrawn=withdrawn, meter=line.meter, aside=not self.fits.reading(line.reading),
                )
            )  # fmt: skip
            if old is not None and not withdrawn:
                self._change(old.place, corrected_by=entry.place + 1)
        elif isinstance(line, TestLine):
            first = entry.place + 1
            for k, reading in enumerate(line.readings):
                self._add(
                    LoggedReading(
                        id=entry.id, number=first + k, epoch=epoch, at=at, reading=reading, typed=f"{line.screen}, {line.test}",
                        screen=line.screen, meter=line.meter, withdrawn=withdrawn, aside=not self.fits.test(line),
                    )
                )  # fmt: skip
            if line.screen in TAKEN_WHOLE and line.readings and not withdrawn:
                self._stands_for(entry, line.screen, epoch)
        elif isinstance(line, RepairLine) and not withdrawn:
            parts = tuple(e for e in line.elements if self.fits.element(e))
            said = LoggedRepair(
                id=entry.id, at=entry.at, text=line.text, elements=parts, epoch=epoch, fitted=line.fitted, minutes=line.minutes
            )  # fmt: skip
            self._repairs.append(said)
            self._counting.append({})
        elif isinstance(line, CondemnLine) and not withdrawn and self.fits.element(line.element):
            self._condemned.append(Condemned(id=entry.id, at=entry.at, element=line.element, proven=line.proven, reason=line.reason))
        if isinstance(line, Kind) and not withdrawn and self._stands(line):
            if isinstance(line, Taken) and line.corrects:
                self._others = [k for k in self._others if k.id != line.corrects]
                self._replaced(line.corrects, entry)
            self._others.append(KeptLine(id=entry.id, at=at, epoch=epoch, line=line, first=first, seq=entry.seq))

    def _stands(self, line: Kind) -> bool:
        """Whether what a line names is on the circuit of today."""
        if isinstance(line, TestLine):
            return self.fits.test(line)
        return not isinstance(line, KnownLine) or self.fits.element(line.element)

    def _add(self, reading: LoggedReading) -> None:
        self._readings.append(reading)
        state, attempt = reading.reading.state, reading.reading.crank or 0
        self._attempts[state] = max(self._attempts.get(state, 0), attempt)
        if reading.counts:
            looks = self._counting[reading.epoch].setdefault(_look(reading), [])
            looks.append(reading)
            del looks[:-LOOKS]

    def _change(self, place: int, **change: Any) -> None:
        """A reading counts no longer, or again."""
        new = replace(self._readings[place], **change)
        self._readings[place] = new
        key = _look(new)
        mine = [r for r in self._readings if r.epoch == new.epoch and r.counts and _look(r) == key]
        self._counting[new.epoch][key] = mine[-LOOKS:]

    def _stands_for(self, entry: _Entry, screen: str, epoch: int) -> None:
        before = self._whole.get((epoch, screen))
        self._whole[epoch, screen] = entry.id
        if before is not None:
            self._replaced(before, entry)

    def _replaced(self, before: UUID, entry: _Entry) -> None:
        """The readings of an earlier line count no longer: this one stands for them."""
        for place, r in enumerate(self._readings):
            if r.id == before and r.counts:
                self._change(place, corrected_by=entry.place + 1)


def read_log(rows: Iterable[Row], fits: Fits = ANY) -> JobLog:
    """Fold lines, oldest first, into the job as it stands."""
    return Fold(fits).take(rows).log
