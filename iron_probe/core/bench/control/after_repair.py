"""What a replaced part asks for afterwards, before the job is closed (common practice; the maker's procedure comes first)."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.circuit.elements import Element
from iron_probe.core.phrase import Phrase

BY_TYPE: dict[str, tuple[tuple[str, str], ...]] = {
    "module": (
        ("module-program", Phrase("Programmed and coded to this machine")),
        ("module-theft", Phrase("Theft deterrent learned, every key starts it")),
        ("module-crank", Phrase("Crank sensor relearn done")),
        ("module-codes", Phrase("Codes cleared; none come back after a drive or a run")),
    ),
    "battery": (
        ("battery-register", Phrase("Battery registered with the charging control, where it has one")),
        ("battery-clock", Phrase("Clock, radio and stored settings put back")),
        ("battery-windows", Phrase("Window and roof ends learned again")),
        ("battery-secure", Phrase("Hold-down, vent tube and terminal covers fitted")),
    ),
    "starter": (
        ("starter-torque", Phrase("Studs and mounting at the maker's torque")),
        ("starter-heat", Phrase("Heat shield and loom clips back in place")),
        ("starter-hot", Phrase("Cranked hot as well as cold")),
    ),
}


@dataclass(frozen=True, slots=True)
class Todo:
    """A point to be ticked: its id, what it says, and the element that asks for it."""

    id: str
    text: str
    element: str


def todos(replaced: Sequence[Element]) -> list[Todo]:
    """The points for the parts replaced, each once."""
    found: dict[str, Todo] = {}
    for element in replaced:
        for todo_id, text in BY_TYPE.get(element.type, ()):
            found.setdefault(todo_id, Todo(todo_id, text, element.id))
    return list(found.values())
