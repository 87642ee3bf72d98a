"""What can go wrong at the edge of the core.

IronProbeError
├── SheetError      a circuit sheet cannot be used; carries every mistake found
├── CaptureError    a capture file cannot be read as asked
├── LogError        a line cannot be added to a job's log
├── ReadingError    a typed or listed reading cannot be understood
└── SolveError      a question the circuit cannot answer (unknown state, point or element)
"""

from dataclasses import dataclass
from difflib import get_close_matches


class IronProbeError(Exception):
    """Any refusal of the core: the text says what, where, what is allowed and what to do."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Mistake:
    """One thing wrong with a sheet or list: `line` counts from 1, 0 when it concerns the whole file."""

    line: int
    where: str
    text: str

    def __str__(self) -> str:
        place = f"line {self.line}, " if self.line else ""
        return f"{place}{self.where}: {self.text}"


class SheetError(IronProbeError):
    """A circuit sheet cannot be used; `mistakes` holds all of them, in the order of the file."""

    def __init__(self, mistakes: list[Mistake]) -> None:
        self.mistakes = sorted(mistakes, key=lambda m: (m.line, m.where, m.text))
        super().__init__("\n".join(str(m) for m in self.mistakes))


class ReadingError(IronProbeError):
    """A reading cannot be understood; nothing was logged."""


class LogError(IronProbeError):
    """A line cannot be added to a job's log: its id is taken, or the job is gone; nothing was logged."""


class CaptureError(IronProbeError):
    """A capture cannot be read: the file, its layout or its time base."""


class SolveError(IronProbeError):
    """The circuit cannot answer: an unknown state, point, element or fault was named."""


def unknown_name(kind: str, given: str, allowed: list[str]) -> str:
    """Word a refusal of an unknown name with its nearest neighbours, or the whole list when it is short."""
    near = get_close_matches(given, allowed, n=3, cutoff=0.5)
    hint = f"did you mean {' or '.join(near)}?" if near else f"known: {', '.join(allowed[:12])}"
    return f"no {kind} is called “{given}”; {hint}"
