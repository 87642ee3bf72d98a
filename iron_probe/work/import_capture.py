"""Reading an uploaded capture into the database, in a process of its own so that nobody else waits for it."""

import logging
import time
import zlib
from collections.abc import Iterable, Iterator
from dataclasses import asdict
from itertools import chain
from typing import Any
from uuid import UUID

from sqlalchemy import Engine
from sqlalchemy.exc import OperationalError
from sqlmodel import Session

from iron_probe.core.bench.cranking import CrankedEngine, analyse
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Conditions, Starter
from iron_probe.core.errors import CaptureError
from iron_probe.core.job.job import Job
from iron_probe.core.trace.columns import Samples, read_samples
from iron_probe.core.trace.layout import Layout, Role
from iron_probe.core.trace.steps import find_steps
from iron_probe.store import captures
from iron_probe.store.tables import Capture, JobRow
from iron_probe.work.jobs import find_job

PIECE = 4 << 20
SLEEP_S, MOST_STEPS = 120.0, 4000
"""A current record from this length on may be one of going to sleep, unless it has more steps than this: then it is none."""
WRITE_MS = 120_000
"""A long record may take this long to be written [ms]."""
TOLD_S = 0.4
"""Seconds between two words of how far it is."""


def unpacked(blocks: Iterable[bytes]) -> Iterator[bytes]:
    """The bytes of an uploaded file in pieces, unpacked if it is gzip; CaptureError when the packing is broken."""
    blocks = iter(blocks)
    first = next(blocks, b"")
    if first[:2] != b"\x1f\x8b":
        yield first
        yield from blocks
        return
    opener, begun = zlib.decompressobj(31), True
    try:
        for block in chain([first], blocks):
            rest = block
            while rest:
                piece, begun = opener.decompress(rest, PIECE), True
                rest = opener.unconsumed_tail
                if piece:
                    yield piece
                if opener.eof:  # packed files may be joined end to end
                    rest = opener.unused_data
                    opener, begun = zlib.decompressobj(31), False
                    if rest and rest[:2] != b"\x1f\x8b":
                        raise CaptureError("The packed file has something else behind its end. Pack it again, or upload it unpacked.")
        if begun:
            raise CaptureError("The packed file ends in the middle. Pack it again, or upload it unpacked.")
    except zlib.error as error:
        raise CaptureError(f"The packed file is broken: {error}. Pack it again, or upload it unpacked.") from error


def engine_of(job: Job) -> CrankedEngine:
    """What the job's sheet knows of the engine and of a sound crank at the job's temperature."""
    sheet = job.sheet
    starter = next((e for e in sheet.elements if isinstance(e, Starter)), None)
    state = sheet.cranking_state()
    amps = abs(good_machine(sheet, state, Conditions(temp_degc=job.temp_degc)).expected_amps(starter.id)[0]) if starter and state else None
    return CrankedEngine(
        cylinders=sheet.engine.cylinders, strokes=sheet.engine.strokes, expected_a=amps, expected_rpm=sheet.engine.crank_rpm
    )


def facts_of(samples: Samples, layout: Layout, engine: CrankedEngine) -> dict[str, Any]:
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


def import_capture(engine: Engine, capture_id: UUID) -> None:
    """Read the file of a capture whose layout is set; the row says how far it is, and in the end ready or failed."""
    with Session(engine) as session:
        row = session.get(Capture, capture_id)
        if row is None or row.status != "reading":
            return  # read already, or taken off the list
        job = find_job(session, session.get_one(JobRow, row.job_id).number)
        assert job is not None
        try:
            _read(session, row, job)
        except CaptureError as error:
            _failed(session, row, str(error))
        except OperationalError:
            raise  # the database went away: the task is taken up again
        except Exception:
            logging.getLogger(__name__).exception("capture %s", capture_id)
            _failed(session, row, "Something went wrong while reading; the file is kept. Check the layout and try again.")


def _failed(session: Session, row: Capture, text: str) -> None:
    session.rollback()
    row.status, row.message = "failed", text
    captures.save(session, row)


def _read(session: Session, row: Capture, job: Job) -> None:
    layout = Layout.model_validate(row.layout)
    last = time.monotonic()

    def told(count: int) -> None:
        nonlocal last
        if time.monotonic() - last > TOLD_S:
            last = time.monotonic()
            row.read_samples = count
            captures.save(session, row)

    samples = read_samples(unpacked(captures.upload_blocks(session, row.id)), layout, told)
    row.facts, row.read_samples = facts_of(samples, layout, engine_of(job)), samples.count
    for number, data in enumerate(samples.data):
        captures.write_blocks(session, row.id, number, data)
    row.status, row.message = "ready", ""
    captures.drop_upload(session, row.id)
    captures.save(session, row)
