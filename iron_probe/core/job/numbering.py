"""What only the log as it stands can say of a new reading: which crank it was taken in, and whether what it corrects still counts."""

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import LogError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.lines import ReadingLine


def numbered(line: ReadingLine, log: JobLog, sheet: Sheet, *, same_crank: bool) -> ReadingLine:
    """The reading with the number of its crank: the one before with `same_crank`, else the next. LogError when it corrects one that no
    longer counts."""
    if line.corrects is not None and not any(r.id == line.corrects and r.counts and not r.screen for r in reversed(log.readings)):
        raise LogError("The reading to correct no longer counts: it was withdrawn or corrected elsewhere. Log this as a new reading.")
    if not sheet.state(line.reading.state).cranking:
        return line
    crank = log.crank if same_crank and log.crank else log.crank + 1
    return line.model_copy(update={"reading": line.reading.model_copy(update={"crank": crank})})
