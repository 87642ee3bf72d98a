"""Points of a machine as they are named in a field: by title, as the list offers them and as they are typed, or by the sheet's own name."""

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import ReadingError, unknown_name


def point_meant(sheet: Sheet, text: str) -> str:
    """The point a field names; empty where it names none. ReadingError, with its nearest neighbours, where the machine has no such point."""
    said = " ".join(text.split()).casefold()
    found = next((name for name, p in sheet.points.items() if said in (name.casefold(), p.title.casefold())), "")
    if said and not found:
        held = [p.title for p in sheet.points.values() if said in p.title.casefold()]
        if len(held) == 1:
            return next(name for name, p in sheet.points.items() if p.title == held[0])
        raise ReadingError(
            f"{_begun(unknown_name('point', text[:60], held or [p.title for p in sheet.points.values()]))}. Choose one from the list, or tap it on the map."
        )
    return found


def _begun(text: str) -> str:
    return text[0].upper() + text[1:]
