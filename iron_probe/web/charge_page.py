"""What the charge board shows, gathered: places by state, the verdicts on output and drops, energy, stator and diodes, the engine's word."""

from collections.abc import Callable
from dataclasses import dataclass

from iron_probe.core.bench.bus import BusLine, Level, Stretch, bus_line, suspect_stretches
from iron_probe.core.bench.charging import (
    Balance,
    Moment,
    Place,
    band,
    energy_balance,
    judge_charge_drop,
    judge_commanded,
    judge_output,
    judge_ripple,
    maker_of,
    places_of,
    room_v,
    subtract,
)
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.bench.judged import Judged
from iron_probe.core.bench.stator import Diode, judge_unplugged
from iron_probe.core.circuit.elements import Alternator, Battery, Conditions, Lamp, Rectifier, Stator
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.diagnose.test_book import SMALL_LAMP_W
from iron_probe.core.draw.trend import Strip, trend
from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.machines import load_sheet
from iron_probe.store.job_log import CodeLine, JobLog, LoggedReading
from iron_probe.store.tables import Job
from iron_probe.web.engine import Verdicts, ready, verdicts
from iron_probe.web.job_work import conditions_of
from iron_probe.web.leaning import levels_of

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
class Cell:
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
    diodes: tuple[Diode, ...]
    judged: tuple[tuple[str, Judged], ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class BusBench:
    """The one-wire line: what is typed at its points, the levels judged, its members with their codes, and the stretches suspected."""

    line: BusLine
    typed: dict[str, str]
    levels: tuple[Level, ...]
    with_codes: tuple[str, ...]
    stretches: tuple[Stretch, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargePage:
    """The whole context of the charge board."""

    job: Job
    sheet: Sheet
    log: JobLog
    maker: Alternator | Rectifier
    states: tuple[str, ...]
    shown: str
    rows: tuple[tuple[Place, tuple[Cell, ...]], ...]
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
    prepared: bool
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
    sheet = load_sheet(job.sheet_id)
    maker = maker_of(sheet)
    states = states_of(sheet, Scope.CHARGING)
    at = conditions_of(job)
    places = places_of(sheet, at, states)
    counting = log.counting(log.epoch)

    def newest(red: str, black: str, state: str) -> LoggedReading | None:
        return _newest(counting, {red, black}, state)

    rows = tuple(
        (p, tuple(Cell(state=s, good=g, low=low, high=high, taken=newest(p.red, p.black, s)) for s, g, low, high in p.good)) for p in places
    )
    engine = ready(job, work=Scope.CHARGING)
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
    drops = []
    for key, state in ((k, s) for k in ("plus", "case") for s in running):
        cell = next((c for p, cells in rows if p.key == key for c in cells if c.state == state), None)
        if cell and cell.taken:
            drops.append(
                (
                    f"{key} side, {sheet.states[state].title.lower()}",
                    judge_charge_drop(
                        key, abs(_value(cell.taken)), _value(amps.get(state)) if state in amps else None, maker.rated_a, sheet.system_v
                    ),
                )
            )
    missing = MISSING_SHARE * sum(e.capacity_ah for e in sheet.elements if isinstance(e, Battery))
    return ChargePage(
        job=job, sheet=sheet, log=log, maker=maker, states=states, shown=shown if shown in states else running[-1] if running else states[0], rows=rows,
        lamp=lamp, lamp_seen=looks, amps=amps, verdict=output_verdict(job, sheet, counting), drops=tuple(drops),
        ripple=(ripple, judge_ripple(_value(ripple), sheet.system_v, _output_share(sheet, at, maker, amps)) if ripple else None), balance=tuple(energy_balance(sheet, at, missing)),
        strip=_strip(sheet, counting, maker, running, job.temp_degc),
        commanded=_commanded(sheet, maker, running, newest),
        both_ways=_both_ways(sheet, counting, maker, running),
        stator=_stator(sheet, log, refused if wrong_at == "stator" else None), record=record,
        bus=_bus(sheet, log, refused if wrong_at == "bus" else None), word=verdicts(job, log, engine) if engine else None, prepared=engine is not None,
        wrong=wrong, wrong_at=wrong_at, typed=typed,
    )  # fmt: skip


def _newest(counting: list[LoggedReading], leads: set[str], state: str) -> LoggedReading | None:
    """The newest voltage across two points in a state."""
    volts = (r for r in reversed(counting) if r.reading.instrument is Instrument.VOLTMETER and r.reading.state == state)
    return next((r for r in volts if {r.reading.red, r.reading.black} == leads), None)


def output_verdict(job: Job, sheet: Sheet, counting: list[LoggedReading]) -> Judged | None:
    """The output test of the fastest running state in which the posts were read; None before any was."""
    posts = {s: _newest(counting, {sheet.plus, sheet.minus}, s) for s in sheet.states}
    latest = next((s for s in reversed(sheet.running_states()) if posts[s]), None)
    if latest is None:
        return None
    into = [r for r in counting if r.reading.instrument is Instrument.CLAMP and r.reading.branch == "battery" and r.reading.state == latest]
    rest = posts[next(iter(sheet.states))]
    commanded = any(isinstance(e, Alternator) and e.bus for e in sheet.elements)
    amps = _value(into[-1]) if into else None
    return judge_output(_value(posts[latest]), amps, _value(rest) if rest else None, job.temp_degc, sheet.system_v, commanded)


def _strip(
    sheet: Sheet, counting: list[LoggedReading], maker: Alternator | Rectifier, running: list[str], temp_degc: float
) -> Strip | None:
    """Volts at the posts and amps from the output against the time they were read, engine running."""
    posts, output = {sheet.plus, sheet.minus}, f"{maker.id}.output"
    here = [r for r in counting if r.reading.state in running]
    volts = [
        (r.at.timestamp(), _value(r))
        for r in here
        if r.reading.instrument is Instrument.VOLTMETER and {r.reading.red, r.reading.black} == posts
    ]
    amps = [(r.at.timestamp(), _value(r)) for r in here if r.reading.instrument is Instrument.CLAMP and r.reading.branch == output]
    return trend(volts, amps, band(temp_degc, sheet.system_v), maker.rated_a, sheet.system_v)


def _commanded(
    sheet: Sheet, maker: Alternator | Rectifier, running: list[str], newest: Callable[[str, str, str], LoggedReading | None]
) -> Judged | None:
    """Whether a commanded machine obeys its bus, in the fastest state with the posts read."""
    if not isinstance(maker, Alternator) or not maker.bus:
        return None
    for state in reversed(running):
        posts, bus = newest(sheet.plus, sheet.minus, state), newest(maker.bus, maker.case, state)
        if posts:
            return judge_commanded(_value(posts), _value(bus) if bus else None, sheet.system_v)
    return None


def _both_ways(sheet: Sheet, counting: list[LoggedReading], maker: Alternator | Rectifier, running: list[str]) -> str:
    """Loss both ways as output less battery, where no direct drop was read; or why it is not subtracted."""
    for state in reversed(running):
        here = [r for r in counting if r.reading.state == state and r.reading.instrument is Instrument.VOLTMETER]
        output = next((r for r in reversed(here) if {r.reading.red, r.reading.black} == {maker.b, maker.case}), None)
        posts = [r for r in here if {r.reading.red, r.reading.black} == {sheet.plus, sheet.minus}]
        if output is None or not posts or any({r.reading.red, r.reading.black} == {maker.b, sheet.plus} for r in here):
            continue
        before = next((r for r in reversed(posts) if r.at <= output.at), None)
        latest = posts[-1]
        try:
            beside = _value(before) if before is not None and before is not latest else None
            drop = subtract(
                Moment(_value(output), output.at, beside), Moment(_value(latest), latest.at, _value(latest) if beside is not None else None)
            )
            return f"{drop:.2f} V lost both ways, output less battery ({sheet.states[state].title.lower()}). A direct drop is better: stud to post."
        except ReadingError as error:
            return str(error)
    return ""


def _output_share(sheet: Sheet, at: Conditions, maker: Alternator | Rectifier, amps: dict[str, LoggedReading]) -> float | None:
    """Amps read from the output as a share of a sound machine's, in the fastest state they were read in."""
    for state in reversed(sheet.running_states()):
        if state in amps:
            return _value(amps[state]) / max(abs(good_machine(sheet, state, at).expected_amps(f"{maker.id}.output")[0]), 1e-6)
    return None


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


def _value(logged: LoggedReading | None) -> float:
    return abs(logged.reading.value or 0.0) if logged else 0.0


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
