"""A job: a machine taken in with a complaint, and the circuit it is worked on."""

from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum
from typing import Any
from uuid import UUID

from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.sheet import Sheet


class ActorKind(StrEnum):
    """What kind of hand put a line down."""

    PERSON = "person"
    INSTRUMENT = "instrument"
    APP = "app"


@dataclass(frozen=True, slots=True)
class Actor:
    """Who put a line down."""

    name: str
    kind: ActorKind = ActorKind.PERSON


TECHNICIAN = Actor("technician")
"""Whoever sits at the page: nobody signs in yet."""
INSTRUMENT = Actor("instrument", ActorKind.INSTRUMENT)
DEMO = Actor("demo yard", ActorKind.APP)


@dataclass(frozen=True, slots=True, kw_only=True)
class Pinned:
    """The circuit a job is pinned to: a version of its machine's sheet, by number and content hash, of `newest` versions."""

    machine_id: UUID
    version_id: UUID
    number: int
    content_hash: str
    newest: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Job:
    """What intake said and which settings count; `machine` is the name of the machine, `kind` its kind as the yard calls it, `sheet` its circuit as pinned.

    `drain` holds the settings of drain work: whose limit, how to sweep, ground cables, and fuses corrected; `experience` what the yard
    had found on this kind of machine (`core/job/experience.py`), one `brought_in` came as a file, one of `practice` is of the bay and may be worked `unguided`; `last_line` is the place of the
    newest line of its log when the job was looked up, 0 where there is none.
    """

    id: UUID
    number: int
    machine: str
    sheet: Sheet
    pinned: Pinned
    key: str
    complaint: str = ""
    symptom: str = ""
    circumstances: str = ""
    changed_before: str = ""
    replaced_before: str = ""
    school: str = "common"
    method: str = "best"
    temp_degc: float = 20.0
    cold_degc: float = -10.0
    drain: dict[str, Any] = field(default_factory=dict)
    experience: dict[str, Any] = field(default_factory=dict)
    kind: str = ""
    brought_in: bool = False
    practice: bool = False
    unguided: bool = False
    created_at: datetime
    closed_at: datetime | None = None
    deleted_at: datetime | None = None
    last_line: int

    @property
    def alone(self) -> bool:
        """Whether whoever works it is told nothing: no step, no suspects, until it is closed."""
        return self.unguided and self.closed_at is None

    @property
    def conditions(self) -> Conditions:
        """The temperature the job is worked at."""
        return Conditions(temp_degc=self.temp_degc)
