"""Captures in the database: rows by name, samples in compressed blocks, views cut from the pyramid."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from uuid import UUID

import numpy as np
import pyarrow as pa
from sqlalchemy import delete, text
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, select

from iron_probe.core.arrays import Singles
from iron_probe.core.errors import CaptureError
from iron_probe.core.job.job import Job
from iron_probe.core.trace.layout import Layout
from iron_probe.core.trace.pyramid import FACTOR, LEAST, build_pyramid, columns_of, level_for
from iron_probe.store.tables import Capture, CaptureBlock, CaptureLayout, UploadBlock

BLOCK = 16_384
"""Samples or pairs in a block."""
CODEC = pa.Codec("zstd", compression_level=1)
MOST_WIDTH = 4000


@dataclass(frozen=True, slots=True, kw_only=True)
class View:
    """A stretch of a capture for drawing: `first` sample and the samples a column stands for; least and greatest by channel (columns,)."""

    first: int
    last: int
    per_column: float
    low: tuple[Singles, ...]
    high: tuple[Singles, ...]


def captures_of(session: Session, job: Job) -> Sequence[Capture]:
    """A job's captures, newest first."""
    query = select(Capture).where(col(Capture.job_id) == job.id, col(Capture.deleted_at).is_(None))
    return session.exec(query.order_by(col(Capture.at).desc()).limit(200)).all()


def find_capture(session: Session, job: Job, capture_id: UUID) -> Capture | None:
    """One of a job's captures."""
    found = session.get(Capture, capture_id)
    return found if found is not None and found.job_id == job.id and found.deleted_at is None else None


def save(session: Session, row: Capture) -> None:
    """Keep a new or changed capture."""
    session.add(row)
    session.commit()


def add_upload(session: Session, row: Capture, blocks: Iterable[bytes]) -> None:
    """Write a new capture with its file in blocks; nothing of it stays where the transaction is not ended well."""
    session.add(row)
    session.flush()
    for number, data in enumerate(blocks):
        session.execute(insert(UploadBlock).values(capture_id=row.id, number=number, data=data))


def take_file(session: Session, capture_id: UUID, blocks: Iterable[bytes]) -> bool:
    """Keep the file of a capture that has none in the database; whether there is such a capture."""
    row = session.get(Capture, capture_id)
    if (
        row is None
        or row.status == "ready"
        or session.exec(select(UploadBlock.number).where(col(UploadBlock.capture_id) == capture_id)).first()
    ):
        return False
    for number, data in enumerate(blocks):
        session.execute(insert(UploadBlock).values(capture_id=capture_id, number=number, data=data))
    return True


def same_upload(session: Session, job: Job, digest: str) -> Capture | None:
    """The capture of a job that came from the same file."""
    query = select(Capture).where(col(Capture.job_id) == job.id, col(Capture.digest) == digest, col(Capture.deleted_at).is_(None))
    return session.exec(query).first()


def upload_head(session: Session, capture_id: UUID) -> bytes:
    """The first block of an uploaded file."""
    query = select(UploadBlock.data).where(col(UploadBlock.capture_id) == capture_id, col(UploadBlock.number) == 0)
    return session.exec(query).first() or b""


def upload_blocks(session: Session, capture_id: UUID) -> Iterator[bytes]:
    """An uploaded file block by block."""
    numbers = session.exec(
        select(UploadBlock.number).where(col(UploadBlock.capture_id) == capture_id).order_by(col(UploadBlock.number))
    ).all()
    if not numbers:
        raise CaptureError("The uploaded file is gone. Upload it again.")
    for number in numbers:
        query = select(UploadBlock.data).where(col(UploadBlock.capture_id) == capture_id, col(UploadBlock.number) == number)
        yield session.exec(query).one()


def drop_upload(session: Session, capture_id: UUID) -> None:
    """Let an uploaded file go once it was read or its capture deleted."""
    session.execute(delete(UploadBlock).where(col(UploadBlock.capture_id) == capture_id))


def being_read(session: Session) -> Sequence[UUID]:
    """Captures that are to be read and are not yet."""
    return session.exec(select(Capture.id).where(col(Capture.status) == "reading", col(Capture.deleted_at).is_(None))).all()


def kept_layouts(session: Session) -> dict[str, Layout]:
    """Layouts kept under a name."""
    rows = session.exec(select(CaptureLayout).order_by(col(CaptureLayout.name)).limit(100))
    return {row.name: Layout.model_validate(row.layout) for row in rows}


def keep_layout(session: Session, name: str, layout: Layout) -> None:
    """Keep a layout under a name, in place of one of that name."""
    values = layout.model_dump(mode="json")
    session.execute(
        insert(CaptureLayout).values(name=name, layout=values).on_conflict_do_update(index_elements=["name"], set_={"layout": values})
    )
    session.commit()


def blocks_of(data: Singles) -> Iterator[tuple[int, int, bytes]]:
    """Every block of a channel: span, number and compressed bytes; the samples themselves and all levels above them."""
    for number in range(0, len(data), BLOCK):
        yield 1, number // BLOCK, CODEC.compress(data[number : number + BLOCK].tobytes(), asbytes=True)
    for level in build_pyramid(data):
        for number in range(0, len(level.low), BLOCK):
            pair = np.concatenate([level.low[number : number + BLOCK], level.high[number : number + BLOCK]])
            yield level.span, number // BLOCK, CODEC.compress(pair.tobytes(), asbytes=True)


def write_blocks(session: Session, capture_id: UUID, channel: int, data: Singles) -> None:
    """Write a channel's blocks by COPY, in place of any there."""
    session.execute(delete(CaptureBlock).where(col(CaptureBlock.capture_id) == capture_id, col(CaptureBlock.channel) == channel))
    driver = session.connection().connection.driver_connection
    assert driver is not None
    with (
        driver.cursor() as cursor,
        cursor.copy("copy capture_block (capture_id, channel, span, block, data) from stdin (format binary)") as copy,
    ):
        copy.set_types(["uuid", "int4", "int4", "int4", "bytea"])
        for span, number, packed in blocks_of(data):
            copy.write_row((capture_id, channel, span, number, packed))


def _read(session: Session, capture_id: UUID, channel: int, span: int, first: int, last: int, total: int) -> tuple[Singles, Singles]:
    """Pairs `first` to `last` (not included) of a level, of `total`; the same array twice where they are samples."""
    blocks = range(first // BLOCK, (last - 1) // BLOCK + 1)
    rows = session.execute(
        text(
            "select block, data from capture_block where capture_id = :c and channel = :n and span = :s and block between :a and :b order by block"
        ),
        {"c": capture_id, "n": channel, "s": span, "a": blocks.start, "b": blocks.stop - 1},
    ).all()
    low, high = [], []
    for number, packed in rows:
        size = min(BLOCK, total - number * BLOCK)
        values = np.frombuffer(CODEC.decompress(packed, decompressed_size=4 * size * (1 if span == 1 else 2)), dtype=np.float32)
        low.append(values[:size])
        high.append(values[-size:])
    cut = slice(first - blocks.start * BLOCK, last - blocks.start * BLOCK)
    return np.concatenate(low)[cut], np.concatenate(high)[cut]


def read_view(session: Session, capture: Capture, first: int, last: int, width: int) -> View:
    """Samples `first` to `last` (not included) of every channel, at most `width` columns; the range is clipped to the record."""
    count, channels = int(capture.facts["count"]), len(capture.layout["channels"])
    first = min(max(first, 0), count - 1)
    last = min(max(last, first + 1), count)
    width = min(max(width, 1), MOST_WIDTH)
    span = level_for(last - first, max(width, LEAST))  # levels end there
    total = count
    for _ in range(round(np.log(span) / np.log(FACTOR))):
        total = -(-total // FACTOR)
    low, high = [], []
    for channel in range(channels):
        pair = _read(session, capture.id, channel, span, first // span, -(-last // span), total)
        cut = columns_of(*pair, width)
        low.append(cut[0])
        high.append(cut[1])
    return View(first=first, last=last, per_column=(last - first) / max(len(low[0]), 1), low=tuple(low), high=tuple(high))


def channel_pieces(session: Session, capture: Capture, channel: int) -> Iterator[Singles]:
    """Every sample of a channel, in pieces."""
    count = int(capture.facts["count"])
    for first in range(0, count, 16 * BLOCK):
        yield _read(session, capture.id, channel, 1, first, min(first + 16 * BLOCK, count), count)[0]


MOST_WHOLE = 3_000_000
"""A capture up to this many samples is read whole."""


def samples_of(session: Session, capture: Capture) -> tuple[Singles, ...]:
    """Every sample of every channel; CaptureError for a record too long to be read whole."""
    count = int(capture.facts["count"])
    if count > MOST_WHOLE:
        raise CaptureError(f"{count:,} samples: export the second around the event, at most {MOST_WHOLE:,} samples.")
    return tuple(_read(session, capture.id, channel, 1, 0, count, count)[0] for channel in range(len(capture.layout["channels"])))
