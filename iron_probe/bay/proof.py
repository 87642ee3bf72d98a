"""Whether a part that was repaired or marked bad had been proven: by a reading of its own, under load."""

from dataclasses import replace

from iron_probe.core.answers import solve_answer
from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.job.confirmed import confirmed
from iron_probe.core.job.fold import JobLog, LoggedRepair
from iron_probe.core.job.lines import DrainLine
from iron_probe.core.kept import Kept

LOADED_SHARE, LEAST_LOAD_A = 0.1, 0.05
"""A part is under load where the sound machine sends so much of the most it carries through it; what carries less than that [A] has no load to be
tested under (chosen here)."""


def unproven_in(log: JobLog, sheet: Sheet) -> tuple[str, ...]:
    """Titles of the parts that were repaired with nothing read at them by then, or marked bad without a proof; each once."""
    parts = {c.element for c in log.condemned if not c.proven}
    for repair in log.repairs:
        before = replace(log, readings=tuple(r for r in log.readings if r.epoch <= repair.epoch), repairs=())
        own = confirmed(before, sheet) | {line.where.partition(".")[0] for k, line in log.lines(DrainLine) if k.epoch <= repair.epoch}
        parts |= set(repair.elements) - own
    return tuple(e.title for e in sheet.elements if e.id in parts)


def unloaded_in(log: JobLog, repair: LoggedRepair, sheet: Sheet) -> list[str]:
    """Titles of the parts of a repair that were read at themselves, and by then only where little flows through them, or by ohms that were none too
    many, or by eye: such a reading neither clears nor condemns."""
    found = []
    for part in (e.id for e in sheet.elements if e.id in repair.elements):
        own = [r.reading for r in log.readings if r.counts and r.epoch <= repair.epoch and _is_of(r.reading, part, sheet)]
        if own and not any(_counts_as_proof(r, part, sheet) for r in own):
            found.append(sheet.element(part).title)
    return found


def _is_of(reading: Reading, part: str, sheet: Sheet) -> bool:
    ends = sheet.element(part).points()
    around = (reading.branch or "").partition(".")[0] == part
    return not reading.told and (around or (len(ends) == 2 and {reading.red, reading.black} == set(ends)))


def _counts_as_proof(reading: Reading, part: str, sheet: Sheet) -> bool:
    if reading.instrument in (Instrument.PART_OHM, Instrument.OHMMETER):
        return reading.bound is Bound.AT_LEAST or sheet.element(part).type in UNPLUGGED
    if reading.instrument is Instrument.LOOKS:
        return False
    return reading.instrument is not Instrument.VOLTMETER or under_load(sheet, part, reading.state)


UNPLUGGED = ("stator", "relay", "solenoid")
"""Parts whose windings are judged by their ohms."""


def under_load(sheet: Sheet, part: str, state: str) -> bool:
    """Whether the sound machine sends through a part, in a state, what it can be judged by; or never does."""
    carried = {s: carried_a(sheet, s).get(part, 0.0) for s in sheet.states}
    most_a = max(carried.values(), default=0.0)
    return most_a < LEAST_LOAD_A or carried.get(state, 0.0) > LOADED_SHARE * most_a


_CARRIED: Kept[tuple[str, str], dict[str, float]] = Kept("currents of sound machines", 512)


def carried_a(sheet: Sheet, state: str) -> dict[str, float]:
    """The most that flows through each element of the sound machine in a state [A]."""

    def solved() -> dict[str, float]:
        found: dict[str, float] = {}
        for branch, flow in solve_answer(sheet, state).elements.items():
            part = branch.partition(".")[0]
            found[part] = max(found.get(part, 0.0), abs(flow.amps))
        return found

    return _CARRIED.get((sheet.fingerprint, state), solved)
