"""A job read from an archive: nothing in it is believed before it was looked at."""

import csv
import io
import secrets
import zipfile
import zlib
from collections.abc import Iterator
from datetime import datetime
from typing import IO
from uuid import UUID

import numpy as np
from pydantic import ValidationError
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.exc import IntegrityError
from sqlmodel import Session, col, select

from iron_probe.core.errors import IronProbeError, SheetError
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import LINE
from iron_probe.core.trace.layout import Layout
from iron_probe.core.whole_sheet import read_whole_sheet
from iron_probe.store import captures, queries
from iron_probe.store.tables import Capture, InstrumentTotal, JobRow, LogEntry, MachineRow, Photo, SheetVersion
from iron_probe.work.archive.shape import FORMAT, NAMES, CaptureIn, JobArchive, VersionIn
from iron_probe.work.instrument import drain_log
from iron_probe.work.jobs import find_job
from iron_probe.work.photos import as_kept
from iron_probe.work.sheets import content_hash
from iron_probe.work.summary import keep_summary

MOST_FILES, MOST_BYTES, MOST_JSON = 3000, 400_000_000, 60_000_000
"""What is taken: files in an archive, bytes of them all unpacked, bytes of its job.json."""
MOST_RATIO = 250
"""How many times larger a file may become unpacked: text of a log packs some thirty times."""


class ArchiveError(IronProbeError):
    """An archive that cannot be taken; the text says why."""


def read_archive(session: Session, file: IO[bytes]) -> Job:
    """Take a job in from an archive, under a number of this yard. ArchiveError where it cannot be taken: then nothing of it was kept."""
    try:
        with zipfile.ZipFile(file) as archive:
            _look(archive)
            said = _said(archive)
            _not_here(session, said)
            job = _keep(session, archive, said)
    except (zipfile.BadZipFile, NotImplementedError, RuntimeError, EOFError, zlib.error) as error:
        session.rollback()
        raise ArchiveError(f"This is no archive that can be opened: {error}. Bring the file as it came out of the other yard") from error
    except IntegrityError as error:
        session.rollback()
        raise ArchiveError("A line, photo or record of this job is in this yard already, under another job: it was not taken in") from error
    except IronProbeError:
        session.rollback()
        raise
    return job


def _look(archive: zipfile.ZipFile) -> None:
    """Refuse what no archive of ours is, before anything is unpacked."""
    files = archive.infolist()
    if len(files) > MOST_FILES:
        raise ArchiveError(f"The archive holds {len(files):,} files; a job has at most {MOST_FILES:,}")
    for one in files:
        if not NAMES.fullmatch(one.filename):
            raise ArchiveError(f"The archive holds “{one.filename[:80]}”, which is no part of a job")
        if one.flag_bits & 1:
            raise ArchiveError("The archive is locked with a password: write it anew without")
        if one.file_size > MOST_RATIO * max(one.compress_size, 100):
            raise ArchiveError(
                f"“{one.filename}” would become {one.file_size / max(one.compress_size, 1):.0f} times as large: it is not unpacked"
            )
    if len({one.filename for one in files}) < len(files):
        raise ArchiveError("The archive holds one name twice")
    if (total := sum(one.file_size for one in files)) > MOST_BYTES:
        raise ArchiveError(f"Unpacked the archive has {total / 1e6:,.0f} MB; at most {MOST_BYTES / 1e6:,.0f} MB are taken")


def _part(archive: zipfile.ZipFile, name: str, most: int = MOST_BYTES) -> bytes:
    try:
        with archive.open(name) as part:
            data = part.read(most + 1)
    except KeyError:
        raise ArchiveError(f"The archive lacks {name}, which its job.json names") from None
    if len(data) > most:
        raise ArchiveError(f"{name} has more than {most / 1e6:.0f} MB")
    return data


def _said(archive: zipfile.ZipFile) -> JobArchive:
    text = _part(archive, "job.json", MOST_JSON)
    try:
        return JobArchive.model_validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(map(str, first["loc"]))
        if where == "format":
            raise ArchiveError(
                f"The archive is of another format than {FORMAT}, perhaps of a newer Iron Probe: bring this yard up to date"
            ) from error
        raise ArchiveError(f"job.json is not as a job's: {where}: {first['msg'].lower()}") from error


def _not_here(session: Session, said: JobArchive) -> None:
    known = session.get(JobRow, said.job.id)
    if known is not None:
        told = "was deleted here: bring it back from the yard" if known.deleted_at else "is here already"
        raise ArchiveError(f"This job is job {known.number} of this yard and {told}")


def _keep(session: Session, archive: zipfile.ZipFile, said: JobArchive) -> Job:
    versions = _machine(session, archive, said)
    if said.job.version not in versions:
        raise ArchiveError(f"The job is pinned to version {said.job.version} of its circuit, which the archive lacks")
    number = _job(session, said, versions[said.job.version])
    _lines(session, said, number)
    for photo in said.photos:
        jpeg, width, height = as_kept(_part(archive, f"photos/{photo.id}.jpg"))
        session.add(Photo(job_id=said.job.id, jpeg=jpeg, width=width, height=height, **photo.model_dump()))
    session.flush()
    for capture in said.captures:
        _capture(session, archive, said.job.id, capture)
    session.add_all(_totals(archive, said.job.id))
    session.flush()
    job = find_job(session, number)
    assert job is not None
    keep_summary(session, job, drain_log(session, job))
    session.commit()
    return job


def _machine(session: Session, archive: zipfile.ZipFile, said: JobArchive) -> dict[int, SheetVersion]:
    """The machine, known here or new, and its versions here by their numbers there."""
    texts = {v.number: _sheet(archive, v) for v in said.versions}
    if session.get(MachineRow, said.machine.id) is None:
        values = MachineRow(number=0, **said.machine.model_dump()).model_dump(exclude={"number"})
        session.execute(insert(MachineRow).values(**values))
    machine = session.get_one(MachineRow, said.machine.id)
    machine_id = machine.merged_into or machine.id
    known = {v.content_hash: v for v in queries.versions_of(session, machine_id)}
    newest = queries.newest_version(session, machine_id) if known else None
    found = {}
    for version in said.versions:
        digest = content_hash(texts[version.number])
        if digest not in known:
            kept = queries.add_version(session, machine_id, digest, texts[version.number], version.note, version.by, version.answers)
            kept.at = version.at
            known[digest] = kept
        found[version.number] = known[digest]
    if newest is not None and queries.newest_version(session, machine_id).id != newest.id:
        queries.add_version(
            session, machine_id, newest.content_hash, newest.text, "kept when an earlier job was brought in", newest.by, newest.answers
        )
    return found


def _sheet(archive: zipfile.ZipFile, version: VersionIn) -> str:
    try:
        text = _part(archive, f"sheets/{version.number}.yaml", 4_000_000).decode()
        read_whole_sheet(text)
    except UnicodeDecodeError as error:
        raise ArchiveError(f"sheets/{version.number}.yaml is no text") from error
    except SheetError as error:
        raise ArchiveError(f"sheets/{version.number}.yaml is no circuit: {error.mistakes[0]}") from error
    return text


def _job(session: Session, said: JobArchive, version: SheetVersion) -> int:
    row = JobRow(
        number=0,
        machine_id=version.machine_id,
        version_id=version.id,
        key=secrets.token_urlsafe(18),
        brought_in=True,
        experience=said.job.experience.model_dump() if said.job.experience else {},
        **said.job.model_dump(exclude={"version", "experience"}),
    )
    session.execute(insert(JobRow).values(**row.model_dump(exclude={"number"})))
    return session.exec(select(JobRow.number).where(col(JobRow.id) == said.job.id)).one()


def _lines(session: Session, said: JobArchive, number: int) -> None:
    for line in said.lines:
        try:
            LINE.validate_python({**line.payload, "kind": line.kind})
        except ValidationError as error:
            raise ArchiveError(f"Line {line.id} is no {line.kind[:20]} that can be read: {error.errors()[0]['msg'].lower()}") from error
        if queries.add_line(session, LogEntry(seq=0, job_id=said.job.id, **line.model_dump()), number) is None:
            raise ArchiveError(f"Line {line.id} is in this yard already, in another job")


def _capture(session: Session, archive: zipfile.ZipFile, job_id: UUID, said: CaptureIn) -> None:
    try:
        layout, count = Layout.model_validate(said.layout), int(said.facts["count"])
    except (ValidationError, KeyError, TypeError, ValueError) as error:
        raise ArchiveError(f"The record {said.filename[:60]} has no layout that can be read") from error
    session.add(Capture(job_id=job_id, status="ready", read_samples=count, **said.model_dump()))
    session.flush()
    for channel in range(len(layout.channels)):
        data = _part(archive, f"captures/{said.id}/{channel}.f32")
        if len(data) != 4 * count:
            raise ArchiveError(f"A channel of {said.filename[:60]} has {len(data) // 4:,} samples where {count:,} are told")
        captures.write_blocks(session, said.id, channel, np.frombuffer(data, dtype="<f4"))


def _totals(archive: zipfile.ZipFile, job_id: UUID) -> Iterator[InstrumentTotal]:
    if "totals.csv" not in archive.namelist():
        return
    for number, row in enumerate(csv.DictReader(io.StringIO(_part(archive, "totals.csv").decode(errors="replace"))), 2):
        try:
            yield InstrumentTotal(
                job_id=job_id, id=UUID(row["id"]), at=datetime.fromisoformat(row["at"]), amps=float(row["amps"]),
                resolution_a=float(row["resolution_a"]), series=row["series"] == "1", tells=row["tells"] == "1",
            )  # fmt: skip
        except (KeyError, TypeError, ValueError) as error:
            raise ArchiveError(f"Line {number} of totals.csv is no total: {error}") from error
