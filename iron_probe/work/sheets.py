"""Circuit sheets by their content: read once, whoever's machine they lie on."""

import hashlib

from sqlmodel import Session

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.kept import Kept
from iron_probe.store import queries

_sheets: Kept[str, Sheet] = Kept("sheets", 128)


def content_hash(text: str) -> str:
    """What a sheet's text is known by."""
    return hashlib.sha256(text.encode()).hexdigest()


def sheet_of(session: Session, digest: str) -> Sheet:
    """The sheet of that content, read from the database once and kept; it was checked before it was stored."""
    return _sheets.get(digest, lambda: read_sheet(queries.sheet_text(session, digest)))
