"""What a screen of a job is: from the table of them (`web/rooms.py`) the navigation, the machine's page and the app's routes derive."""

from collections.abc import Callable
from dataclasses import dataclass

from iron_probe.core.circuit.sheet import Sheet


def always(sheet: Sheet) -> str:
    """A screen that every machine has."""
    return ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Screen:
    """One screen of a job: its name, its path behind the job's, its title, whether it lies aside of the work, and why a sheet cannot support it (nothing where it can)."""

    name: str
    path: str
    title: str
    aside: bool = False
    refuses: Callable[[Sheet], str] = always
