"""How a practice case was worked: minutes on the case's own clock, parts mended for nothing or on no proof that counts, cautions broken, faults left,
what it cost, and the marks for it."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.bay.acts import ACT_MINUTES, Caution, Handled
from iron_probe.bay.cost import cost
from iron_probe.bay.in_bay import InBay
from iron_probe.bay.proof import unloaded_in, unproven_in
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.lines import DrainLine
from iron_probe.core.limits import CLAMP_MINUTES, READ_MINUTES

FULL, PASSES = 100, 60
LEFT, INNOCENT, BROKEN, UNPROVEN, UNLOADED, IDLE, SLOW = 60, 15, 15, 5, 3, 2, 20
"""Marks lost for a fault left in the machine or a job not closed; for each part mended for nothing; for each caution broken; for each part repaired
without a test of its own, and with none but under no load; for each test that told nothing; and the most for minutes (all chosen here: an innocent
part costs more than any detour)."""
EASY, SLOWEST = 1.5, 3.0
"""Times the engine's minutes that cost nothing yet, and that cost all of `SLOW`."""
LEAST_PAR_MINUTES = 8.0
"""What the engine took, at the least: getting to the machine and its posts counts for everybody."""
PROBE_MINUTES = CLAMP_MINUTES + 1.0
"""A probe of a drain: a clamp and a minute more [min] (chosen here)."""
TELLS_NOTHING_BIT = 0.02


@dataclass(frozen=True, slots=True, kw_only=True)
class Worked:
    """What was done on a case until its last repair: minutes [min], readings, visits to other points; titles of parts mended for nothing, of those
    without proof, of those proven under no load, of those that hands broke, and of those whose fault was left; cautions broken; what the customer pays
    [crowns]; whether the job was closed."""

    minutes: float
    readings: int
    visits: int
    innocent: tuple[str, ...]
    unproven: tuple[str, ...]
    left: tuple[str, ...]
    closed: bool
    unloaded: tuple[str, ...] = ()
    broke: tuple[str, ...] = ()
    cautions: tuple[Caution, ...] = ()
    cost: int = 0


def minutes_of(sheet: Sheet, readings: Sequence[Reading]) -> float:
    """What some readings take one after the other [min]: getting at the points, and bringing the state about; a crank is made anew each time."""
    total, before = 0.0, ""
    for reading in readings:
        access = sorted(sheet.points[p].minutes for p in (reading.red, reading.black) if p in sheet.points)
        total += (access[-1] + 0.3 * sum(access[:-1]) if access else 0.0) + READ_MINUTES
        state = sheet.states.get(reading.state)
        if state is not None and (state.cranking or reading.state != before):
            total += state.minutes
        before = reading.state
    return total


def handled_minutes(sheet: Sheet, handled: Sequence[Handled]) -> float:
    """What hands took beside readings [min]: getting at the part, and the act."""
    reach = {e.id: max((sheet.points[p].minutes for p in e.points()), default=0.0) for e in sheet.elements}
    return sum(ACT_MINUTES[done.act] + reach.get(done.element, 0.0) for done in handled)


def worked_on(log: JobLog, bay: InBay, drawn: Sheet, closed: bool) -> Worked:
    """How a case was worked by its log, on the drawing as it is today; `bay` is its machine as the repairs have left it."""
    sheet = bay.sheet
    last = max((r.epoch for r in log.repairs), default=log.epoch)
    taken = [r.reading for r in log.readings if r.epoch <= last]
    drains = [k for k, _ in log.lines(DrainLine) if k.epoch <= last]
    spots = [(r.red, r.black, r.branch) for r in taken]
    minutes = round(minutes_of(drawn, taken) + len(drains) * PROBE_MINUTES + handled_minutes(sheet, bay.handled), 1)
    fuses = sum(r.instrument is Instrument.NEW_FUSE and r.word == "blows" for r in taken)
    return Worked(
        minutes=minutes,
        readings=len(taken) + len(drains),
        visits=sum(a != b for a, b in zip(spots, [None, *spots], strict=False)),
        innocent=tuple(sheet.element(e).title for e in bay.innocent),
        unproven=unproven_in(log, drawn),
        left=tuple(sheet.element(f.element).title for f in bay.faults),
        closed=closed,
        unloaded=tuple(title for r in log.repairs for title in unloaded_in(log, r, drawn)),
        broke=tuple(sheet.element(h.element).title for h in bay.handled if h.broke),
        cautions=tuple(h.caution for h in bay.handled if h.caution),
        cost=cost(sheet, minutes, bay.mended, fuses),
    )


def marks(worked: Worked, par_minutes: float | None, idle: int) -> int:
    """Marks of a hundred; `par_minutes` is what the engine took on the same case, None where it has no word, `idle` tests that told nothing."""
    lost = LEFT if worked.left or not worked.closed else 0
    lost += INNOCENT * len(worked.innocent) + BROKEN * len(worked.cautions)
    lost += UNPROVEN * len(worked.unproven) + UNLOADED * len(worked.unloaded) + min(IDLE * idle, SLOW // 2)
    if par_minutes is not None:
        times = worked.minutes / max(par_minutes, LEAST_PAR_MINUTES)
        lost += round(SLOW * min(max((times - EASY) / (SLOWEST - EASY), 0.0), 1.0))
    return max(FULL - lost, 0)
