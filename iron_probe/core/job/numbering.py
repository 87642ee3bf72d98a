"""What only the log as it stands can say of a new reading: which attempt it was taken in, and whether what it corrects still counts."""

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import LogError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.lines import ReadingLine


def numbered(line: ReadingLine, log: JobLog, sheet: Sheet, *, same_crank: bool) -> ReadingLine:
    """The reading with the number of its attempt: of a crank the one before with `same_crank`, else the next; another state is held for as long
    as nothing is read in between in another. What corrects a reading was taken when that one was. LogError when it no longer counts."""
    state, attempts = line.reading.state, log.attempts
    old = next((r for r in reversed(log.readings) if r.id == line.corrects and r.counts and not r.screen), None) if line.corrects else None
    if line.corrects is not None and old is None:
        raise LogError("The reading to correct no longer counts: it was withdrawn or corrected elsewhere. Log this as a new reading.")
    if old is not None and old.reading.state == state:
        return _of_attempt(line, old.reading.crank)
    if sheet.state(state).cranking:
        done = max((n for s, n in attempts.items() if s in sheet.states and sheet.states[s].cranking), default=0)
        held = same_crank
    else:
        done = attempts.get(state, 0)
        held = bool(log.readings) and log.readings[-1].reading.state == state
    return _of_attempt(line, done if held and done else done + 1)


def _of_attempt(line: ReadingLine, number: int | None) -> ReadingLine:
    return line.model_copy(update={"reading": line.reading.model_copy(update={"crank": number})})
