"""What stands in a job's archive: `job.json` in this shape, and beside it sheets, photos, samples and tables.

job.json               everything but the files below (docs/schemas/job.schema.json)
sheets/1.yaml          a version of the machine's circuit each
photos/<id>.jpg
captures/<id>/0.f32    samples of a channel: little-endian 32-bit floats
captures/<id>.csv      the same with their times, for other programs; not read back
totals.csv             what a logging instrument sent
readings.csv, map.svg, report.pdf   for people and other programs; not read back
"""

import re
from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field

FORMAT = "iron-probe-job/1"
NAMES = re.compile(
    r"job\.json|readings\.csv|totals\.csv|map\.svg|report\.pdf|sheets/\d{1,5}\.yaml|photos/[0-9a-f-]{36}\.jpg|captures/[0-9a-f-]{36}(\.csv|/\d\.f32)"
)
"""Every name that may stand in an archive."""


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class MachineIn(_Part):
    """The machine a job was on."""

    id: UUID
    name: str = Field(min_length=1, max_length=120)
    kind: str = ""
    plate: str = ""
    hours: float | None = None
    km: float | None = None
    battery: dict[str, Any] = {}
    notes: str = ""


class VersionIn(_Part):
    """A version of its circuit; its text is `sheets/<number>.yaml`."""

    number: int = Field(ge=1, le=99_999)
    note: str = ""
    by: str = ""
    at: datetime
    answers: str = ""


class ExperienceIn(_Part):
    """What its yard had found on this kind of machine, where the job went by that: jobs confirmed, and how often each part by its title."""

    confirmed: int = Field(ge=1)
    found: dict[str, Annotated[int, Field(ge=1)]] = Field(max_length=1000)


class JobIn(_Part):
    """What intake said and which settings count; `version` is the circuit's that it is pinned to."""

    id: UUID
    version: int
    complaint: str = ""
    symptom: str = ""
    circumstances: str = ""
    changed_before: str = ""
    replaced_before: str = ""
    school: str = "common"
    method: str = "best"
    temp_degc: float = Field(default=20.0, ge=-60, le=80)
    cold_degc: float = Field(default=-10.0, ge=-60, le=80)
    drain: dict[str, Any] = {}
    experience: ExperienceIn | None = None
    created_at: datetime
    closed_at: datetime | None = None


class LineIn(_Part):
    """A line of its log: when it was entered, by whom, and what it says as its kind has it."""

    id: UUID
    at: datetime
    by: str
    kind: str
    payload: dict[str, Any]
    digest: str = Field(default="", max_length=64)


class PhotoIn(_Part):
    """A photo, at the reading `line` where it was taken at one; its picture is `photos/<id>.jpg`."""

    id: UUID
    epoch: int = Field(ge=0)
    line: UUID | None = None
    caption: str = Field(max_length=200)
    by: str
    taken_at: datetime
    at: datetime


class CaptureIn(_Part):
    """A record taken by a scope or logger; the samples of its channels are `captures/<id>/<channel>.f32`."""

    id: UUID
    at: datetime
    filename: str = Field(max_length=200)
    size_bytes: int = Field(ge=0)
    digest: str = Field(default="", max_length=64)
    layout: dict[str, Any]
    facts: dict[str, Any]


class JobArchive(_Part):
    """A whole job."""

    format: Literal["iron-probe-job/1"] = "iron-probe-job/1"
    written_at: datetime
    yard: str = ""
    number_there: int = 0
    machine: MachineIn
    versions: list[VersionIn] = Field(min_length=1, max_length=2000)
    job: JobIn
    lines: list[LineIn] = Field(max_length=200_000)
    photos: list[PhotoIn] = Field(default=[], max_length=500)
    captures: list[CaptureIn] = Field(default=[], max_length=200)
