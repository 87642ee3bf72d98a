"""The lines of a job's log: what was read, tested, noted, repaired and taken back, each as it was put down and never changed."""

from datetime import datetime
from enum import StrEnum
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from iron_probe.core.bench.drain.currents import Way
from iron_probe.core.circuit.element_base import Tag
from iron_probe.core.diagnose.evidence import Reading


class _Line(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Taken(_Line):
    """Something read off a meter: `corrects` is the id of the line it replaces, `read_at` when it was read where that was not when it was put down,
    `meter` what it came from by itself, as that names itself; nothing where it was typed."""

    corrects: UUID | None = None
    read_at: datetime | None = None
    meter: str = ""


class ReadingLine(Taken):
    """A reading taken, as typed and as understood."""

    kind: Literal["reading"] = "reading"
    reading: Reading
    typed: str


class WithdrawLine(_Line):
    """Undo: the named line no longer counts (or counts again, when the named line is itself a withdrawal)."""

    kind: Literal["withdraw"] = "withdraw"
    entry: UUID


class RepairLine(_Line):
    """Something was repaired or replaced, what was fitted for it and how long it took [min], as noted; readings before it belong to the machine as
    it was."""

    kind: Literal["repair"] = "repair"
    text: str
    fitted: str = ""
    minutes: Annotated[float, Field(ge=0)] | None = None
    elements: list[str] = []


class CondemnLine(_Line):
    """A part marked bad; `reason` is asked for while power, ground and command at it are not proven under load."""

    kind: Literal["condemn"] = "condemn"
    element: str
    proven: bool
    reason: str = ""


class TestLine(Taken):
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


class Ending(StrEnum):
    """As what a job was closed."""

    REPAIRED = "repaired"
    NO_FAULT = "no_fault"
    NOT_REPRODUCED = "not_reproduced"
    HANDED_ON = "handed_on"
    UNPROVEN = "unproven"


class ClosedLine(_Line):
    """A job closed, and as what."""

    kind: Literal["closed"] = "closed"
    ending: Ending


class DrainLine(Taken):
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
    (`amps` booked from then on) or off again; `ago_minutes` before it was noted."""

    kind: Literal["mark"] = "mark"
    what: Literal["latched", "locked", "opened", "booked", "unbooked"]
    text: str = ""
    amps: float = 0.0
    ago_minutes: Annotated[float, Field(ge=0)] = 0.0


class KnownLine(_Line):
    """What is known of an element: a tag that raises it, `absent` where this machine does not have it, or nothing (takes both back)."""

    kind: Literal["known"] = "known"
    element: str
    mark: Tag | Literal["absent", ""]


Kind = TestLine | CodeLine | TickLine | WaitLine | ClosedLine | DrainLine | MarkLine | KnownLine
AnyLine = (
    ReadingLine
    | WithdrawLine
    | RepairLine
    | CondemnLine
    | TestLine
    | CodeLine
    | TickLine
    | WaitLine
    | ClosedLine
    | DrainLine
    | MarkLine
    | KnownLine
)
Line = Annotated[AnyLine, Field(discriminator="kind")]
LINE: TypeAdapter[AnyLine] = TypeAdapter(Line)
