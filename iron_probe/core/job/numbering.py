"""What only the log as it stands can say of a new reading: which attempt it was taken in, and whether what it corrects still counts."""

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import LogError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.lines import ReadingLine


def numbered(line: ReadingLine, log: JobLog, sheet: Sheet, *, same_crank: bool) -> ReadingLine:
    """The reading with the number of its attempt: of a crank the one before with `same_crank`, else the next; another state is held for as long
    as nothing is read in between in another. LogError when it corrects one that no longer counts."""
    if line.corrects is not None and not any(r.id == line.corrects and r.counts and not r.screen for r in reversed(log.readings)):
        raise LogError("The reading to correct no longer counts: it was withdrawn or corrected elsewhere. Log this as a new reading.")
    state, attempts = line.reading.state, log.attempts
    if sheet.state(state).cranking:
        done = max((n for s, n in attempts.items() if s in sheet.states and sheet.states[s].cranking), default=0)
        held = same_crank
    else:
        done = attempts.get(state, 0)
        held = bool(log.readings) and log.readings[-1].reading.state == state
    return line.model_copy(update={"reading": line.reading.model_copy(update={"crank": done if held and done else done + 1})})
