"""Uploaded captures: where their files lie, and the process beside the app that reads them."""

from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path
from uuid import UUID

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.store import captures
from iron_probe.store.import_capture import import_capture


class Importer:
    """Reads captures one after another in a process of its own; those cut short when the app ended are taken up again."""

    def __init__(self, engine: Engine, folder: Path) -> None:
        self.folder = folder
        self._url = engine.url.render_as_string(hide_password=False)
        self._pool: ProcessPoolExecutor | None = None

    def path_of(self, capture_id: UUID) -> Path:
        """Where the uploaded file of a capture lies until it is read."""
        self.folder.mkdir(parents=True, exist_ok=True)
        return self.folder / f"{capture_id}.upload"

    def start(self, capture_id: UUID) -> None:
        """Put a capture on the list; the process is started with the first one."""
        if self._pool is None:
            self._pool = ProcessPoolExecutor(1, mp_context=get_context("spawn"))
        self._pool.submit(import_capture, self._url, capture_id, self.path_of(capture_id))

    def resume(self, session: Session) -> None:
        """Start what was being read when the app ended; without its file it has failed."""
        for row in captures.unfinished(session):
            if self.path_of(row.id).exists():
                self.start(row.id)
            else:
                row.status, row.message = "failed", "The app ended while this was read, and its file is gone. Upload it again."
                captures.save(session, row)

    def stop(self) -> None:
        """Let the process end; what it was reading is taken up at the next start."""
        if self._pool is not None:
            self._pool.shutdown(wait=False, cancel_futures=True)
