"""A job written as an archive."""

import csv
import io
import zipfile
from collections.abc import Iterator
from typing import IO

import numpy as np
from sqlmodel import Session, col, select

from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.store import captures, queries
from iron_probe.store.captures import channel_pieces
from iron_probe.store.own_yard import own_yard
from iron_probe.store.prints import prints_of
from iron_probe.store.tables import Capture, InstrumentTotal, JobRow, LogEntry, MachineRow, now
from iron_probe.work.archive.shape import CaptureIn, JobArchive, JobIn, LineIn, MachineIn, PhotoIn, VersionIn
from iron_probe.work.logs import job_log
from iron_probe.work.photos import find_photo, photos_of

TOTALS = ("id", "at", "amps", "resolution_a", "series", "tells")
READINGS = ("number", "at", "entered", "by", "red", "black", "branch", "state", "instrument", "typed", "value", "counts")


def write_archive(session: Session, job: Job, into: IO[bytes], map_svg: str) -> None:
    """Write a job whole, its map as drawn beside it."""
    said = _said(session, job)
    with zipfile.ZipFile(into, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as archive:
        archive.writestr("job.json", said.model_dump_json(indent=1))
        for version in queries.versions_of(session, job.pinned.machine_id):
            archive.writestr(f"sheets/{version.number}.yaml", version.text)
        for photo in said.photos:
            if found := find_photo(session, job, photo.id):
                archive.writestr(zipfile.ZipInfo(f"photos/{photo.id}.jpg"), found.jpeg)
        for capture in _ready(session, job):
            _write_capture(session, archive, capture)
        archive.writestr("totals.csv", _table(TOTALS, _totals(session, job)))
        archive.writestr("readings.csv", _table(READINGS, _readings(session, job, job_log(session, job))))
        archive.writestr("map.svg", map_svg)
        pdf = next((p.pdf for p in prints_of(session, job.id) if p.pdf), None)
        if pdf:
            archive.writestr("report.pdf", pdf)


def _said(session: Session, job: Job) -> JobArchive:
    machine, row = session.get_one(MachineRow, job.pinned.machine_id), session.get_one(JobRow, job.id)
    lines = session.exec(select(LogEntry).where(col(LogEntry.job_id) == job.id).order_by(col(LogEntry.seq))).all()
    return JobArchive(
        written_at=now(), yard=own_yard(session).name, number_there=job.number,
        machine=MachineIn.model_validate(machine.model_dump(include=set(MachineIn.model_fields))),
        versions=[
            VersionIn.model_validate(v.model_dump(include=set(VersionIn.model_fields))) for v in reversed(queries.versions_of(session, machine.id))
        ],
        job=JobIn(version=job.pinned.number, **row.model_dump(include=set(JobIn.model_fields), exclude=None if row.experience else {"experience"})),
        lines=[LineIn.model_validate(line.model_dump(include=set(LineIn.model_fields))) for line in lines],
        photos=[PhotoIn.model_validate(p.model_dump(include=set(PhotoIn.model_fields))) for p in photos_of(session, job)],
        captures=[CaptureIn.model_validate(c.model_dump(include=set(CaptureIn.model_fields))) for c in _ready(session, job)],
    )  # fmt: skip


def _ready(session: Session, job: Job) -> list[Capture]:
    return [c for c in captures.captures_of(session, job) if c.status == "ready"]


def _write_capture(session: Session, archive: zipfile.ZipFile, capture: Capture) -> None:
    names = [c["name"] for c in capture.layout["channels"]]
    for channel in range(len(names)):
        with archive.open(f"captures/{capture.id}/{channel}.f32", "w") as out:
            for piece in channel_pieces(session, capture, channel):
                out.write(np.ascontiguousarray(piece, dtype="<f4").tobytes())
    with archive.open(f"captures/{capture.id}.csv", "w") as out:
        out.write((",".join(["seconds", *(_plain(n) for n in names)]) + "\n").encode())
        start_s, step_s, at = float(capture.facts["start_s"]), float(capture.facts["step_s"]), 0
        for pieces in zip(*(channel_pieces(session, capture, k) for k in range(len(names))), strict=True):
            times = start_s + step_s * (at + np.arange(len(pieces[0])))
            rows = io.StringIO()
            np.savetxt(rows, np.column_stack([times, *pieces]), fmt="%.7g", delimiter=",")
            out.write(rows.getvalue().encode())
            at += len(pieces[0])


def _plain(name: str) -> str:
    """A name that no program works out or takes apart."""
    return name.replace(",", " ").replace('"', " ").replace("\n", " ").lstrip("=+-@\t ") or "channel"


def _table(head: tuple[str, ...], rows: Iterator[tuple[object, ...]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(head)
    for row in rows:
        writer.writerow([f"'{cell}" if isinstance(cell, str) and cell[:1] in "=+@\t" and cell else cell for cell in row])
    return out.getvalue()


def _totals(session: Session, job: Job) -> Iterator[tuple[object, ...]]:
    query = select(InstrumentTotal).where(col(InstrumentTotal.job_id) == job.id).order_by(col(InstrumentTotal.at))
    for row in session.exec(query):
        yield row.id, row.at.isoformat(), row.amps, row.resolution_a, int(row.series), int(row.tells)


def _readings(session: Session, job: Job, log: JobLog) -> Iterator[tuple[object, ...]]:
    hands = queries.hands_of(session, job.id)
    for logged in log.readings:
        r, hand = logged.reading, hands[logged.id]
        yield (
            logged.number, logged.at.isoformat(), hand.entered_at.isoformat(), hand.by, r.red or "", r.black or "", r.branch or "", r.state,
            r.instrument.value, logged.typed, "" if r.value is None else r.value, "yes" if logged.counts else "no",
        )  # fmt: skip
