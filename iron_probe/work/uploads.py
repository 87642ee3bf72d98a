"""Uploads that an earlier version kept as files: taken into the database, where every host finds them."""

import contextlib
from collections.abc import Iterator
from pathlib import Path
from uuid import UUID

from sqlmodel import Session

from iron_probe.store import captures

BLOCK = 1 << 20


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
