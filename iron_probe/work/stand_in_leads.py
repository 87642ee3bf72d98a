"""What is at the leads of the practice bay's stand-ins: read off the rig's machine of the job, in the state it is held in."""

import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime

import numpy as np
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.bay.as_typed import asked_by
from iron_probe.bay.by_hand import inside_ohm
from iron_probe.bay.in_bay import InBay
from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.elements import Starter
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.meters.measured import Measured, needed
from iron_probe.rig.crank import CrankRun, crank_trace
from iron_probe.rig.errors import RigError
from iron_probe.store.meters import BEGINS, Placing, placing, tell
from iron_probe.store.tables import now
from iron_probe.work import practice
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log

LOOKS_EVERY_S = 0.3
"""How often it is looked where the leads are [s]."""
READY_S, HELD_S, LOAD_S = 1.3, 8.0, 18.0
"""The helper is at the key so long before a crank, so that the meter has seen it at rest; then holds it, and lets it go; a load is on
for longer [s]."""
TRACE_S, REPEATS_S = 3.0, 1.0
"""So much of a crank is solved as it runs; from there its last part comes again [s]."""
MOST_JOBS = 12


@dataclass(slots=True)
class _Held:
    """A machine held in a state with the leads somewhere: what a meter sees of it by what it is set to, [V], [A], [Ω]; a crank as it runs."""

    placed: Placing
    bay: InBay
    looked: float
    began: datetime
    crank: CrankRun | None = None
    seen: dict[tuple[Measured, str], tuple[float, float] | None] = field(default_factory=dict)


class Leads:
    """The leads of all stand-ins, on whichever practice job each link has selected; `clock` says how long a state has been held."""

    def __init__(self, engine: Engine, clock: Callable[[], datetime] = now) -> None:
        self._clock, self._engine, self._held, self._rng = clock, engine, dict[str, _Held](), np.random.default_rng(5)

    def shows(self, selected: str, measured: Measured) -> float | None:
        """What is there now, in V, A or Ω; None over range, or where no practice job is selected."""
        with practice.hands_on():
            held = self._look(selected)
            return None if held is None else self._now(held, measured)

    def _look(self, selected: str) -> _Held | None:
        held = self._held.get(selected)
        if held is not None and time.monotonic() - held.looked < LOOKS_EVERY_S:
            return held
        with Session(self._engine) as session:
            job = find_job(session, int(selected)) if selected.isdecimal() and len(selected) < 10 else None
            if job is None or not job.practice:
                return None
            placed = placing(session, job.id) or Placing(job_id=job.id, state=next(iter(job.sheet.states)), at=self._clock())
            bay = practice.machine_now(session, job, job_log(session, job))
            session.expunge_all()
        if held is not None and held.placed.at == placed.at and held.bay is bay:
            held.looked = time.monotonic()
            return held
        if len(self._held) >= MOST_JOBS:
            self._held.pop(next(iter(self._held)))
        crank = _crank_of(bay, placed)
        self._held[selected] = _Held(placed, bay, time.monotonic(), self._clock(), crank)
        with Session(self._engine) as session:  # only now: solving it may have taken a while
            tell(session, int(selected), BEGINS)
            session.commit()
        return self._held[selected]

    def _now(self, held: _Held, measured: Measured) -> float | None:
        placed, sheet = held.placed, held.bay.sheet
        since_s = (self._clock() - held.began).total_seconds() - READY_S
        loads, cranks = placed.instrument == Instrument.LOAD, sheet.state(placed.state).cranking
        let_go = (loads or cranks) and not 0 <= since_s <= (LOAD_S if loads else HELD_S)
        state = next(iter(sheet.states)) if let_go else placed.state
        if state == placed.state and held.crank is not None and (moving := self._moving(held, measured, since_s)) is not None:
            return moving
        key = (measured, "" if let_go else state)
        if key not in held.seen:
            held.bay.plant.go(state)
            held.seen[key] = seen_of(held.bay, placed, measured, state, let_go=let_go)
        span = held.seen[key]
        return None if span is None else span[0] + (span[1] - span[0]) * float(self._rng.random())

    def _moving(self, held: _Held, measured: Measured, since_s: float) -> float | None:
        """A crank as it runs, where the leads or the clamp see it: at the posts, or round the starter's way."""
        run, sheet, placed = held.crank, held.bay.sheet, held.placed
        assert run is not None
        end_s = float(run.time_s[-1])
        into_s = since_s if since_s < end_s else REPEATS_S + (since_s - REPEATS_S) % (end_s - REPEATS_S)
        at = min(int(np.searchsorted(run.time_s, into_s)), len(run.time_s) - 1)
        if measured is Measured.DC_VOLTS and (placed.red, placed.black) == (sheet.plus, sheet.minus):
            return float(run.volts[at])
        if measured is Measured.AMPS and placed.branch and isinstance(sheet.element(placed.branch.partition(".")[0]), Starter):
            return float(run.amps[at])
        return None


def _crank_of(bay: InBay, placed: Placing) -> CrankRun | None:
    """How it cranks, where it does."""
    if not bay.sheet.state(placed.state).cranking:
        return None
    bay.plant.let_go()
    bay.plant.go(placed.state)
    try:
        return crank_trace(bay.plant, TRACE_S)
    except RigError:
        return None


def seen_of(bay: InBay, placed: Placing, measured: Measured, state: str, *, let_go: bool = False) -> tuple[float, float] | None:
    """Least and greatest of what a meter sees, alike where it is steady; None over range. Where key or load is `let_go` only the leads stay."""
    plant = bay.plant
    asks = Instrument(placed.instrument) if placed.instrument in {i.value for i in Instrument} else Instrument.VOLTMETER
    if measured is Measured.AMPS:
        shown = plant.amps(placed.branch or bay.sheet.batteries[0].id)
        return (abs(shown.value),) * 2 if shown.least == shown.greatest else (abs(shown.least), abs(shown.greatest))
    if needed(asks) is measured and asks is not Instrument.VOLTMETER and not let_go:
        return _by_hand(bay, placed, asks)
    red, black = placed.red or bay.sheet.plus, placed.black or bay.sheet.minus
    if measured is Measured.DC_VOLTS:
        shown = plant.between(red, black)
        return shown.least, shown.greatest
    if measured is Measured.OHMS and {red, black} == {bay.sheet.plus, bay.sheet.minus}:
        return (inside_ohm(bay.plant, red, black),) * 2
    return None if measured is Measured.OHMS else (0.0, 0.0)


def _by_hand(bay: InBay, placed: Placing, asks: Instrument) -> tuple[float, float] | None:
    """What takes more than leads: a part with its ends off, a load put on."""
    told = {"instrument": asks.value, "state": placed.state, "red": placed.red, "black": placed.black, "branch": placed.branch}
    try:
        taken = bay.reader.take(asked_by(told))
    except (KeyError, ValueError, StopIteration, AssertionError):
        return None
    return None if taken.value is None or taken.bound is Bound.AT_LEAST else (taken.value, taken.value)
