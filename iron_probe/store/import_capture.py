"""Reading an uploaded capture into the database, in a process of its own so that nobody else waits for it."""

import gzip
import logging
import time
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Any
from uuid import UUID

from sqlmodel import Session

from iron_probe.core.bench.cranking import Engine, analyse
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Conditions, Starter
from iron_probe.core.errors import CaptureError
from iron_probe.core.trace.columns import Samples, read_samples
from iron_probe.core.trace.layout import Layout, Role
from iron_probe.core.trace.steps import find_steps
from iron_probe.machines import load_sheet
from iron_probe.store import captures
from iron_probe.store.database import connect
from iron_probe.store.tables import Capture, Job

PIECE = 8 << 20
SLEEP_S, MOST_STEPS = 120.0, 4000
"""A current record from this length on may be one of going to sleep, unless it has more steps than this: then it is none."""
WRITE_MS = 120_000
"""A long record may take this long to be written [ms]."""
TOLD_S = 0.4
"""Seconds between two words of how far it is."""


def pieces_of(path: Path) -> Iterator[bytes]:
    """The bytes of an uploaded file in pieces, unpacked if it is gzip; CaptureError when the packing is broken."""
    with path.open("rb") as plain:
        packed = plain.read(2) == b"\x1f\x8b"
        plain.seek(0)
        try:
            with gzip.open(plain) if packed else plain as stream:
                while piece := stream.read(PIECE):
                    yield piece
        except (OSError, EOFError) as error:
            raise CaptureError(f"The packed file is broken: {error}. Pack it again, or upload it unpacked.") from error


def engine_of(job: Job) -> Engine:
    """What the job's sheet knows of the engine and of a sound crank at the job's temperature."""
    sheet = load_sheet(job.sheet_id)
    starter = next((e for e in sheet.elements if isinstance(e, Starter)), None)
    state = sheet.cranking_state()
    amps = abs(good_machine(sheet, state, Conditions(temp_degc=job.temp_degc)).expected_amps(starter.id)[0]) if starter and state else None
    return Engine(cylinders=sheet.engine.cylinders, strokes=sheet.engine.strokes, expected_a=amps, expected_rpm=sheet.engine.crank_rpm)


def facts_of(samples: Samples, layout: Layout, engine: Engine) -> dict[str, Any]:
    """What is kept of a record beside its samples; `crank` is None with the reason in `no_crank` when there is none."""
    facts: dict[str, Any] = {
        "count": samples.count, "start_s": samples.start_s, "step_s": samples.step_s, "odd_count": samples.odd_count,
        "odd": [asdict(o) for o in samples.odd], "uneven": samples.uneven, "turned": list(samples.turned), "crank": None, "no_crank": "",
        "range": [[float(d.min()), float(d.max())] for d in samples.data],
    }  # fmt: skip
    roles: list[Role] = [c.role for c in layout.channels]
    if Role.AMPS in roles and samples.count * samples.step_s >= SLEEP_S:
        stairs = find_steps(samples.data[roles.index(Role.AMPS)], samples.step_s)
        facts["stairs"] = asdict(stairs) if len(stairs.steps) <= MOST_STEPS else None
    try:
        facts["crank"] = asdict(analyse(samples.step_s, roles, samples.data, engine, samples.start_s))
    except CaptureError as error:
        facts["no_crank"] = str(error)
    return facts


def import_capture(url: str, capture_id: UUID, path: Path) -> None:
    """Read the file of a capture whose layout is set; the row says how far it is, and in the end ready or failed."""
    engine = connect(url, WRITE_MS)
    try:
        with Session(engine) as session:
            row = session.get_one(Capture, capture_id)
            job = session.get_one(Job, row.job_id)
            try:
                _read(session, row, job, path)
            except CaptureError as error:
                _failed(session, row, str(error))
            except Exception:
                logging.getLogger(__name__).exception("capture %s", capture_id)
                _failed(session, row, "Something went wrong while reading; the file is kept. Check the layout and try again.")
    finally:
        engine.dispose()


def _failed(session: Session, row: Capture, text: str) -> None:
    session.rollback()
    row.status, row.message = "failed", text
    captures.save(session, row)


def _read(session: Session, row: Capture, job: Job, path: Path) -> None:
    layout = Layout.model_validate(row.layout)
    last = time.monotonic()

    def told(count: int) -> None:
        nonlocal last
        if time.monotonic() - last > TOLD_S:
            last = time.monotonic()
            row.read_samples = count
            captures.save(session, row)

    samples = read_samples(pieces_of(path), layout, told)
    row.facts, row.read_samples = facts_of(samples, layout, engine_of(job)), samples.count
    for number, data in enumerate(samples.data):
        captures.write_blocks(session, row.id, number, data)
    row.status, row.message = "ready", ""
    captures.save(session, row)
    path.unlink(missing_ok=True)
