"""Reports set as PDF by a worker, and the links that open them without an account."""

import logging
import zlib
from collections.abc import Callable
from datetime import timedelta
from uuid import UUID

from itsdangerous import BadSignature, URLSafeSerializer
from sqlmodel import Session

from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import Job
from iron_probe.store.prints import ReportPrint, print_of, prints_of
from iron_probe.store.tables import now
from iron_probe.work.pdf import pdf_of

OPENS_FOR = timedelta(days=365)
"""How long a link opens a report at the most."""
MOST_WAITING = 3
"""Prints of a job that may wait at once: whoever presses again and again gets the same."""


def ask_print(session: Session, job: Job, print_id: UUID, page: str, by: str) -> ReportPrint:
    """Keep a report's page to be set; the same id twice is one print. ReadingError where several wait already."""
    known = print_of(session, print_id)
    if known is not None:
        if known.job_id != job.id:
            raise ReadingError("This print is another job's: reload the page and ask again")
        return known
    if sum(p.waits for p in prints_of(session, job.id)) >= MOST_WAITING:
        raise ReadingError("Prints of this job are being set already: they appear below in a moment")
    made = ReportPrint(id=print_id, job_id=job.id, by=by, page=zlib.compress(page.encode()))
    session.add(made)
    session.commit()
    return session.get_one(ReportPrint, print_id)


def set_print(session: Session, print_id: UUID, setter: Callable[[str], bytes] = pdf_of) -> None:
    """Set a print that waits; one that cannot be set says so, and stops nothing else."""
    found = print_of(session, print_id)
    if found is None or found.page is None:
        return
    try:
        found.pdf = setter(zlib.decompress(found.page).decode())
    except Exception:  # whatever the setter stumbles over, the report is on its page all the same
        logging.getLogger(__name__).exception("print %s could not be set", print_id)
        found.failed = "It could not be set as PDF. The report's page prints all the same."
    found.page = None
    session.add(found)
    session.commit()


def end_link(session: Session, job: Job, print_id: UUID) -> None:
    """A print's link opens nothing any more."""
    found = print_of(session, print_id)
    if found is None or found.job_id != job.id:
        raise ReadingError("This job has no such print")
    found.ended_at = found.ended_at or now()
    session.add(found)
    session.commit()


class Links:
    """Links to prints, signed with the yard's secret: none can be guessed from another."""

    def __init__(self, secret: str) -> None:
        self._signer = URLSafeSerializer(secret, salt="report")

    def of(self, made: ReportPrint) -> str:
        """The word of a print's link."""
        return str(self._signer.dumps(made.id.hex))

    def opened(self, session: Session, word: str) -> ReportPrint | None:
        """The print that a word opens; None where it opens none, or not any more."""
        try:
            found = print_of(session, UUID(hex=str(self._signer.loads(word[:200]))))
        except (BadSignature, ValueError):
            return None
        if found is None or found.ended_at is not None or found.at < now() - OPENS_FOR:
            return None
        return found
