"""The field a reading is typed into, the same on every screen: what stands in it unlogged, the question about what is hard to believe, when it was read."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from uuid import UUID

from starlette.datastructures import FormData

from iron_probe.core.bench.plausible import Doubt
from iron_probe.core.bench.typed_moment import parse_moment
from iron_probe.core.errors import LogError, ReadingError
from iron_probe.core.job.fold import JobLog, LoggedReading
from iron_probe.core.job.lines import DrainLine
from iron_probe.store.tables import now
from iron_probe.web.page import field as text_of
from iron_probe.web.words import DOUBT

OWN = ("form_token", "entry_id", "at", "back")
"""What a form says of itself; all else is what was said in it."""
LONGEST_METER = 160
LONGEST = 20_000
"""Of one field so many characters are kept."""


class DoubtedError(ReadingError):
    """A reading that is hard to believe: asked about once, and logged when it is said again."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Entered:
    """What stands in a field of a screen without being logged: `at` which field, what was `said` in it, what is `wrong`, and whether that is a question
    that saying it again answers."""

    at: str = ""
    said: Mapping[str, str] = field(default_factory=dict)
    wrong: str = ""
    asks: bool = False

    @staticmethod
    def refused(form: FormData, error: Exception, at: str = "") -> "Entered":
        """A field that was sent and not logged, with all that was typed; `at` where its form does not name itself."""
        said = {name: text_of(form, name)[:LONGEST] for name in form if name not in OWN}
        return Entered(at=at or text_of(form, "at")[:200], said=said, wrong=str(error), asks=isinstance(error, DoubtedError))


NOTHING = Entered()


def ask_first(form: FormData, doubt: Doubt | None, shown: str, **about: str) -> None:
    """Raise the question about a reading that is hard to believe, unless it was answered; `about` are the figures the question names."""
    if doubt is not None and not text_of(form, "sure"):
        raise DoubtedError(DOUBT[doubt].format(shown=shown, **about))


def read_at(form: FormData) -> datetime | None:
    """When a reading was taken, where a form says so; ReadingError for what is no moment."""
    return parse_moment(text_of(form, "read_at")[:60], now().astimezone())


def by_meter(form: FormData) -> str:
    """The meter whose figure a form holds, as it names itself; nothing where it was typed."""
    return text_of(form, "meter")[:LONGEST_METER]


def corrected(form: FormData, log: JobLog | None = None) -> UUID | None:
    """The line a form corrects, if it names one; LogError where `log` has no such test or drain reading any more."""
    named = text_of(form, "corrects")
    try:
        line = UUID(named) if named else None
    except ValueError as error:
        raise ReadingError("The reading to correct is not one of this job's. Log this as a new reading.") from error
    if line is not None and log is not None and all(k.id != line for k in log.others):
        raise LogError("The reading to correct no longer counts: it was withdrawn or corrected elsewhere. Log this as a new reading.")
    return line


def to_correct(log: JobLog, named: str) -> LoggedReading | None:
    """The reading that is to be corrected; None where none of this job's that counts and was typed by itself is named."""
    return next((r for r in log.readings if str(r.id) == named and r.counts and not r.screen), None) if named else None


def correcting(log: JobLog, named: str, at: str) -> Entered:
    """A field filled with the reading that is to be corrected; an empty one where there is none."""
    old = to_correct(log, named)
    if old is None:
        return NOTHING
    said = {"value": old.typed if old.reading.value is not None else "", "word": old.reading.word or "", "corrects": str(old.id)}
    return Entered(at=at, said=said | {"read_at": moment_text(old.at), "unsteady": "1" if old.reading.unsteady else ""})


def correcting_drain(log: JobLog, named: str) -> Entered:
    """The same of a current of the sleeping machine."""
    kept = next(((k, line) for k, line in log.lines(DrainLine) if str(k.id) == named), None) if named else None
    if kept is None:
        return NOTHING
    old, line = kept
    return Entered(at=line.where, said={"value": line.typed, "corrects": named, "read_at": moment_text(old.at)})


def correcting_test(log: JobLog, screen: str, named: str, at: str = "") -> Entered:
    """The same of a test of a screen: its form is filled with all that was typed; `at` where it is not called by its test."""
    kept = next(((k, line) for k, line in log.tests(screen) if str(k.id) == named), None) if named else None
    if kept is None:
        return NOTHING
    old, line = kept
    return Entered(at=at or line.test, said={**line.typed, "corrects": named, "read_at": moment_text(old.at)})


def moment_text(moment: datetime) -> str:
    """A moment as it may be typed for when a reading was taken."""
    return f"{moment.astimezone():%Y-%m-%d %H:%M}"
