"""What the charge board shows, gathered: places by state, the verdicts on output and drops, energy, stator and diodes, the engine's word."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from uuid import UUID

from iron_probe.core.bench.bus import BusLevel, BusLine, BusStretch, bus_line, suspect_stretches
from iron_probe.core.bench.charge_spots import Spot, SpotIn, charge_spots, fuses_out
from iron_probe.core.bench.charging import Balance, band, energy_balance, judge_ripple, maker_of
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.bench.judged import Judged
from iron_probe.core.bench.stator import DiodeTest, judge_unplugged
from iron_probe.core.circuit.elements import Alternator, Fuse, Rectifier, Stator
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.diagnose.test_book import same_place
from iron_probe.core.draw.trend import Frame, Strip, frame, trend
from iron_probe.core.errors import IronProbeError
from iron_probe.core.job.fold import JobLog, LoggedReading, newest_volts
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import CodeLine
from iron_probe.web import words
from iron_probe.web.entry import NOTHING, Entered
from iron_probe.work.charge_work import amount, both_ways, commanded_verdict, drop_verdicts, output_share, output_verdict
from iron_probe.work.guide_work import guide_of
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
class SpotShown:
    """A place of the board with the newest reading in each state that was read."""

    spot: Spot
    taken: dict[str, LoggedReading]

    def off(self, state: str) -> bool:
        """Whether what was read there lies outside the band of sound machines."""
        taken = self.taken.get(state)
        return taken is not None and self.spot.in_state(state).off(taken.reading)


@dataclass(frozen=True, slots=True, kw_only=True)
class StatorBench:
    """The stator unplugged: what is typed and what it says; `entry` is the test that stands, to be withdrawn."""

    stator: Stator
    typed: Mapping[str, str]
    diodes: tuple[DiodeTest, ...]
    judged: tuple[tuple[str, Judged], ...]
    entry: UUID | None


@dataclass(frozen=True, slots=True, kw_only=True)
class BusBench:
    """The one-wire line: what is typed at its points, the levels judged, its members with their codes, the stretches suspected, and the
    `entry` that stands, to be withdrawn."""

    line: BusLine
    typed: Mapping[str, str]
    levels: tuple[BusLevel, ...]
    with_codes: tuple[str, ...]
    stretches: tuple[BusStretch, ...]
    entry: UUID | None


@dataclass(frozen=True, slots=True, kw_only=True)
class ChargePage:
    """The whole context of the charge board; `here` is the place worked on, in the state `shown`."""

    job: Job
    sheet: Sheet
    log: JobLog
    maker: Alternator | Rectifier
    states: tuple[str, ...]
    spots: tuple[SpotShown, ...]
    here: SpotShown
    shown: str
    fuses: tuple[Fuse, ...]
    verdict: Judged | None
    drops: tuple[tuple[str, Judged], ...]
    ripple: Judged | None
    balance: tuple[Balance, ...]
    strip: Strip | None
    record: tuple[str, Strip] | None
    bus: BusBench | None
    both_ways: str
    commanded: Judged | None
    stator: StatorBench | None
    word: Verdicts | None
    entered: Entered

    @property
    def is_alternator(self) -> bool:
        """Whether one case makes, rectifies and regulates; else a stator and its regulator beside it."""
        return isinstance(self.maker, Alternator)

    @property
    def ask(self) -> SpotIn:
        """The place worked on in its state: the reading to take there."""
        return self.here.spot.in_state(self.shown)

    @property
    def live(self) -> Frame:
        """The strip that is drawn as meters stream."""
        return frame(band(self.job.temp_degc, self.sheet.system_v), self.maker.rated_a, self.sheet.system_v)

    @property
    def at(self) -> str:
        """The place and state worked on, as a page address names them."""
        return f"place={self.here.spot.key}&state={self.shown}"

    def stands_at(self, asked: Reading | None) -> bool:
        """Whether the leads are where a step asks for them, or it asks for none."""
        return asked is None or same_place(self.ask.reading, asked)

    def spot(self, key: str) -> SpotShown | None:
        """A place of the board."""
        return next((s for s in self.spots if s.spot.key == key), None)


STEP = "step"
"""The key of a place that only the guide's step asks for."""


def charge_page(
    job: Job, log: JobLog, place: str = "", state: str = "", entered: Entered = NOTHING, record: tuple[str, Strip] | None = None,
) -> ChargePage:  # fmt: skip
    """Gather the board at a place and state, where the guide's step is without one. ReadingError when the machine has no charging system."""
    sheet = job.sheet
    maker = maker_of(sheet)
    states = states_of(sheet, Scope.CHARGING)
    counting = log.counting(log.epoch)
    spots = charge_spots(sheet, job.conditions, states)
    asked = None if job.alone else guide_of(job, log).step.reading
    step = None if asked is None or any(same_place(s.reading, asked) for p in spots for s in p.states) else _at_step(job, asked)
    shown = tuple(SpotShown(spot=s, taken=_newest_at(counting, s)) for s in (*spots, *([step] if step else [])))
    here = next((s for s in shown if s.spot.key == place), None)
    if here is None:
        here, state = _asked(shown, asked)
    engine = ready_or_why(job, work=Scope.CHARGING)[0]
    running = [s for s in states if sheet.states[s].rpm]
    amps = _newest_at(counting, next(s for s in spots if s.key == "amps"))
    missing = MISSING_SHARE * sum(b.capacity_ah for b in sheet.batteries)

    def newest(red: str, black: str, at: str) -> LoggedReading | None:
        return newest_volts(counting, {red, black}, at)

    return ChargePage(
        job=job, sheet=sheet, log=log, maker=maker, states=states, spots=shown, here=here, shown=here.spot.in_state(state).state, fuses=fuses_out(sheet),
        verdict=output_verdict(job, counting), drops=drop_verdicts(sheet, maker, running, amps, newest), ripple=_ripple(job, counting, maker, amps),
        balance=tuple(energy_balance(sheet, job.conditions, missing)), strip=_strip(sheet, counting, maker, running, job.temp_degc),
        commanded=commanded_verdict(sheet, maker, running, newest), both_ways=both_ways(sheet, counting, maker, running),
        stator=_stator(sheet, log, entered), record=record,
        bus=_bus(sheet, log, entered), word=verdicts(job, log, engine) if engine else None, entered=entered,
    )  # fmt: skip


def _at_step(job: Job, asked: Reading) -> Spot:
    """A place of its own for a step that is no place of this design, with what the sound machine shows there."""
    title, shown = words.place(asked, job.sheet), SpotIn(reading=asked)
    if asked.instrument is Instrument.VOLTMETER:
        good, low, high = good_machine(job.sheet, asked.state, job.conditions).expected(asked.red or "", asked.black or "")
        shown = SpotIn(reading=asked, good=good, low=low, high=high)
    return Spot(key=STEP, title=title[0].upper() + title[1:], says="", states=(shown,))


def _asked(shown: tuple[SpotShown, ...], asked: Reading | None) -> tuple[SpotShown, str]:
    """The place and state of the guide's step; the posts at speed where it is none of the board's."""
    if asked is not None:
        for s in shown:
            if any(same_place(i.reading, asked) for i in s.spot.states):
                return s, asked.state
    return shown[0], shown[0].spot.states[-1].state


def _newest_at(counting: Sequence[LoggedReading], spot: Spot) -> dict[str, LoggedReading]:
    """The newest reading of a place in each state."""
    found = {i.state: next((r for r in reversed(counting) if same_place(i.reading, r.reading)), None) for i in spot.states}
    return {state: r for state, r in found.items() if r is not None}


def _ripple(job: Job, counting: Sequence[LoggedReading], maker: Alternator | Rectifier, amps: dict[str, LoggedReading]) -> Judged | None:
    """The newest ripple judged beside the amps."""
    newest = next((r for r in reversed(counting) if r.reading.instrument is Instrument.RIPPLE), None)
    sheet = job.sheet
    return None if newest is None else judge_ripple(amount(newest), sheet.system_v, output_share(sheet, job.conditions, maker, amps))


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


def _bus(sheet: Sheet, log: JobLog, entered: Entered) -> BusBench | None:
    line = bus_line(sheet)
    if line is None:
        return None
    kept = log.newest_test("bus")
    typed: Mapping[str, str] = entered.said
    levels: list[BusLevel] = []
    if entered.at != "bus":
        typed, levels = levels_of(log, sheet)
    named = {e for _, code in log.lines(CodeLine) for e in code.elements}
    with_codes = tuple(m.id for m, _ in line.members if m.id in named)
    return BusBench(
        line=line,
        typed=typed,
        levels=tuple(levels),
        with_codes=with_codes,
        stretches=tuple(suspect_stretches(line, levels, with_codes)) if levels or with_codes else (),
        entry=kept[0].id if kept else None,
    )


def _stator(sheet: Sheet, log: JobLog, entered: Entered) -> StatorBench | None:
    stator = next((e for e in sheet.elements if isinstance(e, Stator)), None)
    if stator is None:
        return None
    kept = log.newest_test("stator")
    typed = entered.said if entered.at == "stator" else kept[1].typed if kept else {}
    try:
        diodes, judged = judge_unplugged(stator, typed)
    except IronProbeError:
        diodes, judged = [], []
    return StatorBench(stator=stator, typed=typed, diodes=tuple(diodes), judged=tuple(judged), entry=kept[0].id if kept else None)
