"""What the charge board shows, gathered: places by state, the verdicts on output and drops, energy, stator and diodes, the engine's word."""

from collections.abc import Sequence
from dataclasses import dataclass

from iron_probe.core.bench.bus import BusLevel, BusLine, BusStretch, bus_line, suspect_stretches
from iron_probe.core.bench.charging import (
    Balance,
    Place,
    band,
    energy_balance,
    judge_ripple,
    maker_of,
    places_of,
    room_v,
)
from iron_probe.core.bench.judged import Judged
from iron_probe.core.bench.stator import DiodeTest, judge_unplugged
from iron_probe.core.circuit.elements import Alternator, Lamp, Rectifier, Stator
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.diagnose.test_book import SMALL_LAMP_W
from iron_probe.core.draw.trend import Strip, trend
from iron_probe.core.errors import IronProbeError
from iron_probe.core.job.fold import JobLog, LoggedReading
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import CodeLine
from iron_probe.work.charge_work import amount, both_ways, commanded_verdict, drop_verdicts, newest_volts, output_share, output_verdict
from iron_probe.work.leaning import levels_of
from iron_probe.work.verdicts import ready_or_why, verdicts
from iron_probe.work.word import Verdicts

MISSING_SHARE = 0.3
STATOR_FIELDS = (
    "leads",
    "p12",
    "p23",
    "p31",
    "ground",
    "v12",
    "v23",
    "v31",
    "rpm",
    *(f"{way}{p}{rail}" for way in "fr" for p in "123" for rail in "+−"),
)


@dataclass(frozen=True, slots=True, kw_only=True)
class PlaceCell:
    """A place in a state: what good reads, and the newest reading."""

    state: str
    good: float
    low: float
    high: float
    taken: LoggedReading | None

    @property
    def off(self) -> bool:
        """Whether what was read lies outside the band of sound machines."""
        if self.taken is None or self.taken.reading.value is None:
            return False
        room = room_v(self.good)
        return not self.low - room <= self.taken.reading.value <= self.high + room


@dataclass(frozen=True, slots=True, kw_only=True)
class StatorBench:
    """The stator unplugged: what is typed and what it says."""

    stator: Stator
    typed: dict[str, str]
    diodes: tuple[DiodeTest, ...]
    judged: tuple[tuple[str, Judged], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class BusBench:
    """The one-wire line: what is typed at its points, the levels judged, its members with their codes, and the stretches suspected."""

    line: BusLine
    typed: dict[str, str]
    levels: tuple[BusLevel, ...]
    with_codes: tuple[str, ...]
    stretches: tuple[BusStretch, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargePage:
    """The whole context of the charge board."""

    job: Job
    sheet: Sheet
    log: JobLog
    maker: Alternator | Rectifier
    states: tuple[str, ...]
    shown: str
    rows: tuple[tuple[Place, tuple[PlaceCell, ...]], ...]
    lamp: Lamp | None
    lamp_seen: dict[str, str]
    amps: dict[str, LoggedReading]
    verdict: Judged | None
    drops: tuple[tuple[str, Judged], ...]
    ripple: tuple[LoggedReading | None, Judged | None]
    balance: tuple[Balance, ...]
    strip: Strip | None
    record: tuple[str, Strip] | None
    bus: BusBench | None
    both_ways: str
    commanded: Judged | None
    stator: StatorBench | None
    word: Verdicts | None
    wrong: str
    wrong_at: str
    typed: str

    @property
    def cautions(self) -> tuple[str, ...]:
        """The cautions of every state of this work, each once."""
        return tuple(dict.fromkeys(name for state in self.states for name in self.sheet.states[state].cautions))


def charge_page(
    job: Job,
    log: JobLog,
    shown: str = "",
    wrong: str = "",
    wrong_at: str = "",
    typed: str = "",
    refused: dict[str, str] | None = None,
    record: tuple[str, Strip] | None = None,
) -> ChargePage:
    """Gather the board; ReadingError when the machine has no charging system."""
    sheet = job.sheet
    maker = maker_of(sheet)
    states = states_of(sheet, Scope.CHARGING)
    at = job.conditions
    places = places_of(sheet, at, states)
    counting = log.counting(log.epoch)

    def newest(red: str, black: str, state: str) -> LoggedReading | None:
        return newest_volts(counting, {red, black}, state)

    rows = tuple(
        (p, tuple(PlaceCell(state=s, good=g, low=low, high=high, taken=newest(p.red, p.black, s)) for s, g, low, high in p.good))
        for p in places
    )
    engine = ready_or_why(job, work=Scope.CHARGING)[0]
    running = [s for s in states if sheet.states[s].rpm]
    output = f"{maker.id}.output"
    amps = {r.reading.state: r for r in counting if r.reading.instrument is Instrument.CLAMP and r.reading.branch == output}
    lamp = next((e for e in sheet.elements if isinstance(e, Lamp) and e.watts < SMALL_LAMP_W), None)
    looks = {
        r.reading.state: r.reading.word or ""
        for r in counting
        if lamp and r.reading.instrument is Instrument.FUNCTION and r.reading.branch == lamp.id
    }
    ripple = next((r for r in reversed(counting) if r.reading.instrument is Instrument.RIPPLE), None)
    missing = MISSING_SHARE * sum(b.capacity_ah for b in sheet.batteries)
    return ChargePage(
        job=job, sheet=sheet, log=log, maker=maker, states=states, shown=shown if shown in states else running[-1] if running else states[0], rows=rows,
        lamp=lamp, lamp_seen=looks, amps=amps, verdict=output_verdict(job, counting), drops=drop_verdicts(sheet, maker, running, amps, newest),
        ripple=(ripple, judge_ripple(amount(ripple), sheet.system_v, output_share(sheet, at, maker, amps)) if ripple else None), balance=tuple(energy_balance(sheet, at, missing)),
        strip=_strip(sheet, counting, maker, running, job.temp_degc),
        commanded=commanded_verdict(sheet, maker, running, newest),
        both_ways=both_ways(sheet, counting, maker, running),
        stator=_stator(sheet, log, refused if wrong_at == "stator" else None), record=record,
        bus=_bus(sheet, log, refused if wrong_at == "bus" else None), word=verdicts(job, log, engine) if engine else None,
        wrong=wrong, wrong_at=wrong_at, typed=typed,
    )  # fmt: skip


def _strip(
    sheet: Sheet, counting: Sequence[LoggedReading], maker: Alternator | Rectifier, running: list[str], temp_degc: float
) -> Strip | None:
    """Volts at the posts and amps from the output against the time they were read, engine running."""
    posts, output = {sheet.plus, sheet.minus}, f"{maker.id}.output"
    here = [r for r in counting if r.reading.state in running]
    volts = [
        (r.at.timestamp(), amount(r))
        for r in here
        if r.reading.instrument is Instrument.VOLTMETER and {r.reading.red, r.reading.black} == posts
    ]
    amps = [(r.at.timestamp(), amount(r)) for r in here if r.reading.instrument is Instrument.CLAMP and r.reading.branch == output]
    return trend(volts, amps, band(temp_degc, sheet.system_v), maker.rated_a, sheet.system_v)


def _bus(sheet: Sheet, log: JobLog, refused: dict[str, str] | None) -> BusBench | None:
    line = bus_line(sheet)
    if line is None:
        return None
    typed, levels = levels_of(log, sheet) if refused is None else (refused, [])
    named = {e for _, code in log.lines(CodeLine) for e in code.elements}
    with_codes = tuple(m.id for m, _ in line.members if m.id in named)
    return BusBench(
        line=line,
        typed=typed,
        levels=tuple(levels),
        with_codes=with_codes,
        stretches=tuple(suspect_stretches(line, levels, with_codes)) if levels or with_codes else (),
    )


def _stator(sheet: Sheet, log: JobLog, refused: dict[str, str] | None) -> StatorBench | None:
    stator = next((e for e in sheet.elements if isinstance(e, Stator)), None)
    if stator is None:
        return None
    kept = [line for k, line in log.tests("stator") if k.epoch == log.epoch]
    typed = refused if refused is not None else dict(kept[-1].typed) if kept else {}
    try:
        diodes, judged = judge_unplugged(stator, typed)
    except IronProbeError:
        diodes, judged = [], []
    return StatorBench(stator=stator, typed=typed, diodes=tuple(diodes), judged=tuple(judged))
