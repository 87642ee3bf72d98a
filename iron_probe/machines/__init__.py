"""The circuit sheets that ship with the app."""

from functools import cache
from importlib.resources import files

from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import SolveError, unknown_name
from iron_probe.core.kept import Kept


@cache
def sheet_ids() -> tuple[str, ...]:
    """Ids of the shipped sheets, in alphabetical order."""
    return tuple(sorted(f.name.removesuffix(".yaml") for f in files(__name__).iterdir() if f.name.endswith(".yaml")))


@cache
def sheet_text(sheet_id: str) -> str:
    """The text of a shipped sheet; SolveError when there is none of that id."""
    if sheet_id not in sheet_ids():
        raise SolveError(unknown_name("sheet", sheet_id, list(sheet_ids())))
    return (files(__name__) / f"{sheet_id}.yaml").read_text(encoding="utf-8")


_read: Kept[str, Sheet] = Kept("shipped sheets", 64)


def load_sheet(sheet_id: str) -> Sheet:
    """A shipped sheet, read once; SolveError when there is none of that id."""
    return _read.get(sheet_id, lambda: read_sheet(sheet_text(sheet_id)))
