"""Uploads that an earlier version kept as files: taken into the database, where every host finds them."""

import contextlib
import shutil
from collections.abc import Iterator
from pathlib import Path
from uuid import UUID

from sqlmodel import Session

from iron_probe.store import captures

BLOCK = 1 << 20
KEPT_FREE_BYTES = 64 << 20
"""What an upload leaves free on the disk, so that readings go on beside it."""


def has_room(folder: Path, size: int) -> bool:
    """Whether the disk of the house's folder takes a file of `size` [bytes] and what is read from it, and readings after."""
    return shutil.disk_usage(folder).free >= 2 * size + KEPT_FREE_BYTES


def adopt(session: Session, folder: Path) -> int:
    """Take the uploads lying in a folder into the database and remove their files; how many were taken."""
    if not folder.is_dir():
        return 0
    taken = 0
    for path in sorted(folder.glob("*.upload")):
        with contextlib.suppress(ValueError):
            taken += captures.take_file(session, UUID(path.stem), file_blocks(path))
            session.commit()
            path.unlink()
    return taken


def file_blocks(path: Path) -> Iterator[bytes]:
    """A file block by block, as uploads are kept."""
    with path.open("rb") as file:
        while piece := file.read(BLOCK):
            yield piece
