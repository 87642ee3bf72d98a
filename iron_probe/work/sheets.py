"""Circuit sheets by their content: read once, whoever's machine they lie on."""

import hashlib
import json
from collections.abc import Mapping
from typing import Any

from sqlmodel import Session

from iron_probe.core.circuit.elements import Battery
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


_fitted: Kept[tuple[str, str], Sheet] = Kept("fitted sheets", 128)


def fitted_sheet(session: Session, digest: str, battery: Mapping[str, Any]) -> Sheet:
    """The sheet of that content with the battery that is really fitted in place of the one it was drawn with."""
    sheet = sheet_of(session, digest)
    return _fitted.get((digest, json.dumps(_change(battery), sort_keys=True)), lambda: with_battery(sheet, battery))


def with_battery(sheet: Sheet, battery: Mapping[str, Any]) -> Sheet:
    """A sheet with the battery that is really fitted."""
    if not (change := _change(battery)):
        return sheet
    elements = [e.model_copy(update=change) if isinstance(e, Battery) and sheet.plus in (e.start, e.end) else e for e in sheet.elements]
    return sheet.changed(elements=elements)


def _change(battery: Mapping[str, Any]) -> dict[str, Any]:
    """What is known of the fitted battery, as a sheet says it."""
    said = (("capacity_ah", "ah"), ("cca_a", "cca"), ("chemistry", "chemistry"))
    return {name: battery[key] for name, key in said if battery.get(key)}
