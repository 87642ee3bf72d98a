"""Photos of jobs and machines: read as pictures and nothing else, made anew without what the camera wrote beside them, kept in the database."""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from PIL import Image, ImageOps, UnidentifiedImageError
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, func, select

from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import Job
from iron_probe.store.tables import JobRow, MachineRow, Photo, now

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_BYTES, MOST_PIXELS, MOST_A_JOB = 15_000_000, 60_000_000, 60
"""What is taken: bytes and pixels of a photo, photos of a job."""
MOST_OF_MACHINE = 24
"""Photos shown of a machine and all its jobs, and kept of it by itself."""
MARK_SIDE = 600
"""Long side of the yard's mark, in pixels."""
LONG_SIDE, QUALITY = 2000, 85
"""Of the picture that is kept, in pixels, and its JPEG quality: a rating on a fuse can be read, and a page of them prints."""


def made_anew(data: bytes, long_side: int = LONG_SIDE) -> tuple[bytes, int, int]:
    """A photo as JPEG, upright, at most so many pixels a side, without place, maker or time; with its width and height. ReadingError where it is no photo that
    can be taken."""
    if len(data) > MOST_BYTES:
        raise ReadingError(
            f"the photo has {len(data) / 1e6:.0f} MB; at most {MOST_BYTES / 1e6:.0f} MB are taken. Take it smaller and send it again."
        )
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as opened:  # the header alone: nothing is unpacked before its size is known
            if opened.width * opened.height > MOST_PIXELS:
                raise ReadingError(
                    f"the photo has {opened.width} x {opened.height} pixels; at most {MOST_PIXELS / 1e6:.0f} million are taken."
                )
            opened.draft("RGB", (long_side, long_side))
            upright = _on_white(ImageOps.exif_transpose(opened))
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, Image.DecompressionBombError) as error:
        raise ReadingError(
            "this is no photo that can be read: JPEG, PNG and WebP are taken. Take it again, or save it as one of these."
        ) from error
    upright.thumbnail((long_side, long_side))
    clean = Image.new("RGB", upright.size)
    clean.paste(upright)  # the pixels and nothing else
    out = io.BytesIO()
    clean.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue(), clean.width, clean.height


def _on_white(picture: Image.Image) -> Image.Image:
    """A picture as paper shows it: what is seen through is white."""
    if picture.mode not in ("RGBA", "LA", "PA") and "transparency" not in picture.info:
        return picture.convert("RGB")
    through = picture.convert("RGBA")
    return Image.alpha_composite(Image.new("RGBA", through.size, "white"), through).convert("RGB")


def as_kept(data: bytes) -> tuple[bytes, int, int]:
    """A photo that another yard kept, as it is where it is just so, made anew where it is not; with its width and height. ReadingError where it is no photo."""
    made, width, height = made_anew(data)
    with Image.open(io.BytesIO(data)) as opened:
        plain = opened.format == "JPEG" and not opened.getexif() and not set(opened.info) & {"comment", "icc_profile", "xmp", "photoshop"}
        if plain and max(opened.size) <= LONG_SIDE:
            return data, width, height
    return made, width, height


@dataclass(frozen=True, slots=True, kw_only=True)
class Shot:
    """What is said with a photo: its caption, by whom, when it was taken, after how many repairs, at which reading."""

    caption: str
    by: str
    taken_at: datetime | None = None
    epoch: int = 0
    line: UUID | None = None


def keep_photo(session: Session, of: Job | MachineRow, photo_id: UUID, data: bytes, shot: Shot) -> None:
    """Keep a photo of a job or a machine; sent twice under one id it is kept once. ReadingError where it cannot be taken."""
    if session.get(Photo, photo_id) is not None:
        return
    whose, most, what = (
        (col(Photo.job_id), MOST_A_JOB, "job") if isinstance(of, Job) else (col(Photo.machine_id), MOST_OF_MACHINE, "machine")
    )
    count = session.exec(select(func.count()).select_from(Photo).where(whose == of.id, col(Photo.removed_at).is_(None))).one()
    if count >= most:
        raise ReadingError(f"the {what} has {count} photos, as many as are kept. Remove one that says nothing, and send this one again.")
    jpeg, width, height = made_anew(data)
    at = now()
    row = Photo(
        id=photo_id, epoch=shot.epoch, caption=shot.caption, by=shot.by, taken_at=shot.taken_at or at, at=at, width=width, height=height,
        jpeg=jpeg, line=shot.line, job_id=of.id if isinstance(of, Job) else None, machine_id=None if isinstance(of, Job) else of.id,
    )  # fmt: skip
    session.execute(insert(Photo).values(**row.model_dump()).on_conflict_do_nothing())
    session.commit()


def photos_of(session: Session, job: Job) -> Sequence[Photo]:
    """A job's photos in the order they were taken, their pictures not read."""
    query = select(*_unread()).where(col(Photo.job_id) == job.id, col(Photo.removed_at).is_(None))
    return [Photo.model_construct(**row._mapping) for row in session.execute(query.order_by(col(Photo.taken_at), col(Photo.id)))]


def photos_of_machine(session: Session, machine_id: UUID) -> Sequence[tuple[int, Photo]]:
    """The newest photos of a machine's jobs, each with its job's number, their pictures not read."""
    mine = (col(JobRow.machine_id) == machine_id) & col(JobRow.deleted_at).is_(None) & col(Photo.removed_at).is_(None)
    query = select(col(JobRow.number), *_unread()).join(JobRow, col(JobRow.id) == col(Photo.job_id)).where(mine)
    rows = session.execute(query.order_by(col(Photo.taken_at).desc(), col(Photo.id)).limit(MOST_OF_MACHINE))
    return [(row[0], Photo.model_construct(**{k: v for k, v in row._mapping.items() if k != "number"})) for row in rows]


def _unread() -> list[Any]:
    """All of a photo but its picture."""
    return [getattr(Photo, name) for name in Photo.model_fields if name != "jpeg"]


def photos_by_itself(session: Session, machine: MachineRow) -> Sequence[Photo]:
    """A machine's own photos in the order they were taken, their pictures not read."""
    query = select(*_unread()).where(col(Photo.machine_id) == machine.id, col(Photo.removed_at).is_(None))
    return [Photo.model_construct(**row._mapping) for row in session.execute(query.order_by(col(Photo.taken_at), col(Photo.id)))]


def find_photo(session: Session, of: Job | MachineRow, photo_id: UUID) -> Photo | None:
    """One of a job's or a machine's photos."""
    found = session.get(Photo, photo_id)
    if found is None or found.removed_at is not None:
        return None
    return found if of.id == (found.job_id if isinstance(of, Job) else found.machine_id) else None


def remove_photo(session: Session, of: Job | MachineRow, photo_id: UUID) -> None:
    """Take a photo out of a job or off a machine; nothing where it has none of that id."""
    if found := find_photo(session, of, photo_id):
        found.removed_at = now()
        session.add(found)
        session.commit()
