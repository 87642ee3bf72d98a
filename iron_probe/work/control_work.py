"""The control side put to the core: pin readings taken, and the checks of modules and relays as judged."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from iron_probe.core.bench.control.module_checks import CHECKS, Check, LowLine, judge_check
from iron_probe.core.bench.judged import Judged
from iron_probe.core.circuit.elements import Module, Relay
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import LAMPS, Instrument, Reading
from iron_probe.core.job.fold import JobLog, LoggedReading


@dataclass(frozen=True, slots=True, kw_only=True)
class CheckTaken:
    """A module check with what was logged of it and how it is judged; `number` is its reading on the Bench, if it is one."""

    check: Check
    value: float | None = None
    judged: Judged | None = None
    at: datetime | None = None
    number: int | None = None
    id: UUID | None = None


def newest_like(log: JobLog, wanted: Reading) -> LoggedReading | None:
    """The newest counting reading at the place and state of a wanted one, a lamp or a voltmeter standing for each other."""
    either = {*LAMPS, Instrument.VOLTMETER}

    def like(r: Reading) -> bool:
        kind = r.instrument == wanted.instrument or {r.instrument, wanted.instrument} <= either
        state = r.state == wanted.state or wanted.instrument is Instrument.JUMPER
        return kind and state and not r.conditioned and {r.red, r.black} == {wanted.red, wanted.black}

    return next((r for r in reversed(log.counting(log.epoch)) if like(r.reading)), None)


def checks_of(log: JobLog, module: str, sheet: Sheet) -> tuple[CheckTaken, ...]:
    """The checks of a module or of a relay taken out, each with its newest figure of this epoch; none of another part."""
    element = sheet.element(module)
    if not isinstance(element, Relay | Module):
        return ()
    newest = {line.test: (kept, line) for kept, line in log.tests("check") if line.subject == module and kept.epoch == log.epoch}
    kind = "relay" if isinstance(element, Relay) else "module"
    taken = []
    for check in (c for c in CHECKS if c.of == kind):
        if check.id not in newest:
            taken.append(CheckTaken(check=check))
            continue
        kept, line = newest[check.id]
        low = LowLine(line.typed.get("low_line", LowLine.TWO.value))
        value, judged = judge_check(check, line.typed["value"], float(sheet.system_v), low)
        taken.append(
            CheckTaken(check=check, value=value, judged=judged, at=kept.at, number=kept.first if line.readings else None, id=kept.id)
        )
    return tuple(taken)
