"""What the control side shows, gathered: the chain, the part of it that is worked on with its present test, switch tables, codes."""

from dataclasses import dataclass

from iron_probe.core.bench.control.interlock import Link, chain_of
from iron_probe.core.bench.control.module_checks import LOW_REASON, LowLine
from iron_probe.core.bench.control.stations import Station, stations_of
from iron_probe.core.bench.control.steps import ControlStep
from iron_probe.core.bench.control.switch_table import SwitchTable, continuity_table, live_table, switches_of
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.test_book import same_place
from iron_probe.core.draw.terminals import Terminal, terminals_of
from iron_probe.core.job.fold import JobLog, KeptLine, LoggedReading
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import CodeLine
from iron_probe.web.entry import NOTHING, Entered
from iron_probe.work.control_work import CheckTaken, checks_of, newest_like
from iron_probe.work.guide_work import guide_of
from iron_probe.work.verdicts import ready_or_why, verdicts
from iron_probe.work.word import Verdicts


@dataclass(frozen=True, slots=True, kw_only=True)
class StepShown:
    """A test with the newest reading taken of it, and whether that is as wanted (None: not read, or between)."""

    step: ControlStep
    taken: LoggedReading | None
    met: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class StationShown:
    """A part of the control side with its tests and checks as far as they were made; tests are counted first, checks behind them."""

    station: Station
    steps: tuple[StepShown, ...]
    checks: tuple[CheckTaken, ...]

    @property
    def id(self) -> str:
        return self.station.element.id

    @property
    def count(self) -> int:
        """Tests and checks."""
        return len(self.steps) + len(self.checks)

    def done(self, k: int) -> bool:
        """Whether the test or check of that number was made."""
        return self.steps[k].taken is not None if k < len(self.steps) else self.checks[k - len(self.steps)].value is not None

    def check(self, k: int) -> CheckTaken | None:
        """The check of that number; None where it is a test's."""
        return self.checks[k - len(self.steps)] if len(self.steps) <= k < self.count else None

    def open(self, first: int = 0) -> int | None:
        """The first test not yet made, from a number on."""
        return next((k for k in range(first, self.count) if not self.done(k)), None)


At = tuple[StationShown, int]
"""A part and the number of a test or check of it."""


@dataclass(frozen=True, slots=True, kw_only=True)
class ControlPage:
    """The whole context of the page; `here` is the part worked on, `k` its present test or check, `made` the one that
    was made just before."""

    job: Job
    sheet: Sheet
    log: JobLog
    chain: tuple[Link, ...]
    numbers: tuple[int, ...]
    weighed: bool
    stations: tuple[StationShown, ...]
    here: StationShown | None
    k: int
    terminals: tuple[Terminal, ...]
    live: tuple[SwitchTable, ...]
    continuity: tuple[SwitchTable, ...]
    codes: tuple[tuple[KeptLine, CodeLine], ...]
    low_reasons: dict[LowLine, str]
    made: At | None = None
    entered: Entered = NOTHING

    @property
    def step(self) -> StepShown | None:
        """The present test; None where it is a check, or there is none."""
        return self.here.steps[self.k] if self.here and self.k < len(self.here.steps) else None

    @property
    def check(self) -> CheckTaken | None:
        """The present check; None where it is a test."""
        return self.here.check(self.k) if self.here else None


def control_page(job: Job, log: JobLog, at: str = "", after: str = "", entered: Entered = NOTHING) -> ControlPage:
    """Gather the page at a part and test named `part:number`, or at the one that follows `after` it; the guide's own where it is one of these tests."""
    sheet = job.sheet
    engine = ready_or_why(job)[0]
    found: Verdicts | None = verdicts(job, log, engine) if engine else None
    readings = [r.reading for r in log.counting(log.epoch)]
    chain = tuple(chain_of(network_of(sheet, job.conditions), found.posterior if found and readings and not job.alone else None))
    stations = tuple(_shown(log, s, sheet) for s in stations_of(sheet, (link.element for link in chain), job.conditions))
    made = _place(stations, after)
    here, k = _place(stations, entered.at or at) or _asked(stations, job, log) or _next(stations, made) or _untold(stations, chain)
    switches = switches_of(sheet)
    return ControlPage(
        job=job, sheet=sheet, log=log, chain=chain, numbers=found.numbers if found else (), weighed=engine is not None, stations=stations,
        here=here, k=k, terminals=terminals_of(here.station, sheet) if here else (),
        live=tuple(live_table(sheet, poles, readings) for poles in switches if poles[0].role == "ignition"),
        continuity=tuple(continuity_table(sheet, poles, readings) for poles in switches), codes=tuple(log.lines(CodeLine)), low_reasons=LOW_REASON,
        made=made, entered=entered,
    )  # fmt: skip


def _shown(log: JobLog, station: Station, sheet: Sheet) -> StationShown:
    taken = [(s, newest_like(log, s.reading)) for s in station.steps]
    steps = tuple(StepShown(step=s, taken=t, met=s.met(t.reading, sheet.system_v) if t else None) for s, t in taken)
    return StationShown(station=station, steps=steps, checks=checks_of(log, station.element.id, sheet))


def _place(stations: tuple[StationShown, ...], at: str) -> At | None:
    """The part and test named `part:number`; the part's first open one where no number is given."""
    part, _, number = at.partition(":")
    station = next((s for s in stations if s.id == part and s.count), None)
    if station is None:
        return None
    k = int(number) if number.isdecimal() and len(number) < 4 else station.open() or 0
    return station, min(k, station.count - 1)


def _next(stations: tuple[StationShown, ...], made: At | None) -> At | None:
    """What follows a test that was just made: the part's next open one, else that of the part behind it."""
    if made is None:
        return None
    station, k = made
    if (ahead := station.open(k + 1)) is not None:
        return station, ahead
    behind = stations[stations.index(station) + 1 :]
    return next(((s, first) for s in behind if (first := s.open()) is not None), made)


def _asked(stations: tuple[StationShown, ...], job: Job, log: JobLog) -> At | None:
    """Where the guide's step is one of these tests; nowhere for who works without it."""
    asked = None if job.alone else guide_of(job, log).step.reading
    if asked is None:
        return None
    return next(((s, k) for s in stations for k, shown in enumerate(s.steps) if same_place(shown.step.reading, asked)), None)


def _untold(stations: tuple[StationShown, ...], chain: tuple[Link, ...]) -> tuple[StationShown | None, int]:
    """The suspect link, else the first whose tests are not all made."""
    suspect = {link.element.id for link in chain if link.word in ("suspect", "found")}
    open_ = [(s, first) for s in stations if (first := s.open()) is not None]
    return next((p for p in open_ if p[0].id in suspect), next(iter(open_), (next(iter(s for s in stations if s.count), None), 0)))
