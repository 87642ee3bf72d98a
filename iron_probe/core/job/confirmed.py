"""What of a drawing this machine has confirmed: parts that were measured at themselves, looked at or repaired. All else is assumed as drawn."""

from iron_probe.core.circuit.network import branch_id
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.job.fold import JobLog


def confirmed(log: JobLog, sheet: Sheet) -> frozenset[str]:
    """Elements with a reading of their own that counts: both leads on their two ends, or an instrument around or on them; and those that were repaired."""
    known = {e.id for e in sheet.elements}
    owner = {branch_id(e, b): e.id for e in sheet.elements for b in e.branches()}
    at = {frozenset(e.points()): e.id for e in sheet.elements if len(e.points()) == 2}
    found: set[str] = {e for repair in log.repairs for e in repair.elements}
    for logged in log.readings:
        if not logged.counts or logged.reading.told:
            continue
        reading = logged.reading
        if reading.branch:
            found.add(owner.get(reading.branch, reading.branch))
        elif reading.red and reading.black and (part := at.get(frozenset((reading.red, reading.black)))):
            found.add(part)
    return frozenset(found & known)
