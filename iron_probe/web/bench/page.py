"""What the Bench shows, gathered: the drawing, the field, the expected value, the next probe, the evidence."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import ClassVar

from markupsafe import Markup
from starlette.datastructures import FormData

from iron_probe.core.bench.allowance import SCHOOLS, School
from iron_probe.core.bench.drop import JudgedDrop
from iron_probe.core.bench.drop_board import good_machine, with_band
from iron_probe.core.circuit.elements import Conductor, Joint
from iron_probe.core.circuit.network import branch_id
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.ensemble import Prediction
from iron_probe.core.diagnose.evidence import (
    AROUND,
    BRIDGES,
    LAMPS,
    OF_BATTERY,
    UNIT,
    WORDS,
    Aid,
    Instrument,
    Reading,
)
from iron_probe.core.diagnose.likelihood import predict
from iron_probe.core.diagnose.next_test import ORDER_REASON, Order
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.diagnose.test_book import same_place
from iron_probe.core.draw.drop_bars import DropBar, drop_bars
from iron_probe.core.draw.feed_map import FeedMap, MapPoint
from iron_probe.core.draw.stair import StairPicture, draw_stair
from iron_probe.core.guide.step import GuideStep
from iron_probe.core.job.fold import JobLog, LoggedReading
from iron_probe.core.job.job import Job
from iron_probe.core.solve.solution import Symptom
from iron_probe.web.bench.drawing import ink_of, map_of, options_of, points_of
from iron_probe.web.bench.evidence_rows import evidence_row
from iron_probe.web.entry import NOTHING, Entered, moment_text
from iron_probe.web.page import field
from iron_probe.work.drop_work import Work, work_of
from iron_probe.work.guide_work import guide_of, scope_of
from iron_probe.work.verdicts import ready_or_why, verdicts, would_read
from iron_probe.work.word import Verdicts


@dataclass(frozen=True, slots=True, kw_only=True)
class Typed:
    """What the field holds: from the address, or from a form that was refused."""

    red: str = ""
    black: str = ""
    branch: str = ""
    state: str = ""
    instrument: str = ""
    value: str = ""
    word: str = ""
    amps: str = ""
    corrects: str = ""
    itself: str = ""
    heard: str = ""
    same_crank: bool = False
    disturbed: bool = False
    unsteady: bool = False
    told: bool = False
    aided: str = ""
    parted: str = ""
    jumper_from: str = ""
    jumper_to: str = ""
    read_at: str = ""

    @property
    def conditioned(self) -> bool:
        """Whether anything was not as drawn while it was read."""
        return bool(self.aided or self.parted or self.jumper_from or self.jumper_to)

    @staticmethod
    def of(form: FormData) -> "Typed":
        """Everything a refused form held, so that nothing typed is lost."""

        def text(name: str) -> str:
            return field(form, name)[:200]

        return Typed(
            red=text("red"), black=text("black"), branch=text("branch"), state=text("state"), instrument=text("instrument"),
            value=text("value"), word=text("word"), amps=text("amps"), corrects=text("corrects"), itself=text("itself"), heard=text("heard"),
            same_crank=bool(text("same_crank")), disturbed=bool(text("disturbed")), told=bool(text("told")),
            unsteady=bool(text("unsteady")), aided=text("aided"), parted=text("parted"),
            jumper_from=text("jumper_from"), jumper_to=text("jumper_to"), read_at=text("read_at"),
        )  # fmt: skip

    @staticmethod
    def correcting(old: LoggedReading) -> "Typed":
        """The field filled with a reading that is to be corrected."""
        r = old.reading
        jumper = r.jumpered or ("", "")
        return Typed(
            red=r.red or "", black=r.black or "", branch=r.branch or "", state=r.state, instrument=r.instrument.value,
            value=old.typed if r.value is not None else "", word=r.word or "", amps="" if r.amps is None else f"{r.amps:g}",
            corrects=str(old.id), itself=r.itself or "", heard=r.heard or "", same_crank=True, disturbed=r.disturbed, told=r.told, unsteady=bool(r.unsteady),
            aided=r.aided or "", parted=r.parted or "", jumper_from=jumper[0], jumper_to=jumper[1],
            read_at=moment_text(old.at),
        )  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Leads:
    """Where the leads are, and what a good machine shows there: nominal and band in the instrument's SI unit, None where it cannot be said."""

    instrument: Instrument
    red: str
    black: str
    branch: str
    state: str
    good: float | None
    low: float
    high: float
    floating: bool
    cautions: tuple[str, ...]
    unit: str
    by_suspect: tuple[tuple[str, float], ...] = ()
    word: str = ""
    between: str = ""
    """The conductor between the two leads, whose own ends may be probed; empty where there is none."""
    itself: bool = False
    """Whether both probes are on that part itself."""


OFFERED = tuple(i for i in Instrument if i not in OF_BATTERY)
"""Instruments in the field; the battery card takes the others."""
TAKES: dict[Instrument, str] = {
    **{i: i.value for i in WORDS},
    **dict.fromkeys(UNIT, "figure"),
    **dict.fromkeys((Instrument.EYES, *BRIDGES), "symptom"),
    **dict.fromkeys(LAMPS, "lamp"),
    **dict.fromkeys((Instrument.SUBSTITUTE, Instrument.FULL_FIELD), "forced"),
}
"""What an instrument is answered with: a figure, a symptom, or a kind of words."""


def lies_on(instrument: Instrument) -> str:
    """Where an instrument is put: between two leads, on a part, or nowhere."""
    return "branch" if instrument in AROUND else "nothing" if instrument is Instrument.EYES else "leads"


@dataclass(frozen=True, kw_only=True)
class BenchPage:
    """The whole context of the Bench; what only parts of it show is worked out when they do."""

    job: Job
    work: Work
    typed: Typed
    entered: Entered
    verdicts: Verdicts | None
    unready: str
    scope: Scope
    view: str = "field"

    instruments: ClassVar[tuple[Instrument, ...]] = OFFERED
    answers: ClassVar[dict[str, tuple[str, ...]]] = {TAKES[i]: said for i, said in WORDS.items() if TAKES[i] != "symptom"}
    takes: ClassVar[dict[Instrument, str]] = TAKES
    on: ClassVar[Callable[[Instrument], str]] = staticmethod(lies_on)
    aids: ClassVar[tuple[Aid, ...]] = tuple(Aid)
    symptoms: ClassVar[tuple[Symptom, ...]] = tuple(Symptom)
    schools: ClassVar[dict[School, str]] = {
        s: SCHOOLS[s].reason if s in SCHOOLS else "the sheet's own figures, where its maker gives them" for s in School
    }
    orders: ClassVar[dict[Order, str]] = ORDER_REASON

    @cached_property
    def probe(self) -> Leads:
        return probe_part(self.job, self.typed, self.verdicts, self.scope)

    @cached_property
    def drawing(self) -> FeedMap:
        return map_of(self.sheet)

    def standing(self, point: str) -> MapPoint | None:
        """Where a point stands on the map."""
        return next((p for p in self.drawing.points if p.id == point), None)

    @cached_property
    def bars(self) -> tuple[DropBar, ...]:
        board = self.work.board
        return drop_bars(self.drawing, board.judged, board.sides) if board else ()

    @cached_property
    def stair(self) -> StairPicture | None:
        board = self.work.board
        return draw_stair(board.stair, len(board.sides[0].points)) if board else None

    @property
    def ink(self) -> Markup:
        return ink_of(self.sheet, self.probe.state)

    @property
    def points(self) -> Markup:
        return points_of(self.sheet)

    @property
    def point_options(self) -> Markup:
        return options_of(self.sheet, "points", ((i, p.title) for i, p in self.sheet.points.items()))

    @property
    def branch_options(self) -> Markup:
        """Branches, and the parts that have several as a whole: a clamp goes around one, a look takes in all."""
        named = [(e, b) for e in self.sheet.elements for b in e.branches()]
        parts = [(e.id, e.title) for e in self.sheet.elements if len(e.branches()) > 1]
        return options_of(
            self.sheet, "branches", [*((branch_id(o, b), o.title + (f", {b.name}" if b.name else "")) for o, b in named), *parts]
        )

    @property
    def states(self) -> tuple[str, ...]:
        """The states of the job's work; one of another only while the leads stand in it."""
        offered = states_of(self.sheet, self.scope)
        return offered if self.probe.state in offered else (*offered, self.probe.state)

    @property
    def map_room(self) -> float:
        """Rows to leave above and below the drawing for the dimension lines."""
        far = max((abs(b.y) if b.y < 0 else b.y - self.drawing.rows for b in self.bars), default=0.0)
        return max(far + 0.3, 0.75)

    @property
    def judged(self) -> dict[int, JudgedDrop]:
        """The judged drops by the number of their reading."""
        return {j.reading.number: j for j in self.work.board.judged} if self.work.board else {}

    @property
    def rows(self) -> list[Markup]:
        """The newest readings as rows, newest first."""
        judged, board, epoch = self.judged, self.work.board, self.log.epoch
        source = board.limits.source if board else ""
        return [
            evidence_row(r, judged.get(r.number), self.sheet, past=r.epoch < epoch, version=self.job.pinned.number, source=source)
            for r in self.log.readings[: -SHOWN - 1 : -1]
        ]

    @property
    def last(self) -> LoggedReading | None:
        """The newest reading that counts in the present epoch."""
        return next((r for r in reversed(self.log.readings) if r.counts and r.epoch == self.log.epoch), None)

    @property
    def older(self) -> int:
        """Readings before those."""
        return max(len(self.log.readings) - SHOWN, 0)

    @property
    def fleeting(self) -> bool:
        """Whether what leads is a fault that comes and goes, and is not yet found."""
        left = self.verdicts.posterior if self.verdicts else None
        return left is not None and not left.settled and bool(left.suspects) and left.suspects[0].fleeting

    @property
    def log(self) -> JobLog:
        return self.work.log

    @property
    def sheet(self) -> Sheet:
        return self.work.sheet


SHOWN = 30
"""Readings in the evidence list; the report has all."""


def probe_part(job: Job, typed: Typed, found: Verdicts | None, scope: Scope) -> Leads:
    """The leads as asked for, with what is unknown left out, and what a good machine and the leading suspects of that work would show."""
    sheet = job.sheet
    state = typed.state if typed.state in sheet.states else next(iter(sheet.states))
    instrument = Instrument(typed.instrument) if typed.instrument in {i.value for i in OFFERED} else Instrument.VOLTMETER
    red = typed.red if typed.red in sheet.points else ""
    black = typed.black if typed.black in sheet.points else ""
    good = good_machine(sheet, state, job.conditions)
    whole = {e.id for e in sheet.elements}
    branch = typed.branch if typed.branch in good.network.branch_row or typed.branch in whole else next((b.id for b in sheet.batteries), "")
    band: tuple[float | None, float, float] = (None, 0.0, 0.0)
    floating = False
    placed = bool(red and black and red != black)
    if instrument is Instrument.CLAMP and branch in good.network.branch_row:
        nominal, low, high = good.expected_amps(branch)
        band = (abs(nominal), min(abs(low), abs(high)), max(abs(low), abs(high)))
    elif instrument is Instrument.LOAD and placed:
        asked = Reading(instrument=instrument, red=red, black=black, state=state, value=0.0)
        band = with_band(predict(asked, good.network, Prediction.of(good.solution)))
    elif instrument is Instrument.VOLTMETER and placed:
        band = good.expected(red, black)
        floating = bool(good.solution.floating(red)[0] or good.solution.floating(black)[0])
    between = conductor_between(sheet, red, black, typed.itself) if instrument is Instrument.VOLTMETER else ""
    cautions = [
        *sheet.states[state].cautions,
        *(["bridge"] if instrument in BRIDGES else []),
        *(["field"] if instrument is Instrument.FULL_FIELD else []),
        *(["fuse"] if instrument is Instrument.NEW_FUSE else []),
        *(["load_test"] if instrument is Instrument.LOAD else []),
        *(["test_lamp"] if instrument in LAMPS else []),
    ]
    return Leads(
        instrument=instrument, red=red, black=black, branch=branch, state=state, good=band[0], low=band[1], high=band[2],
        floating=floating, cautions=tuple(cautions), unit=UNIT.get(instrument, ""), between=between, itself=bool(between) and typed.itself == between,
        by_suspect=_by_suspect(job, instrument, red, black, branch, state, found, scope),
    )  # fmt: skip


def conductor_between(sheet: Sheet, red: str, black: str, meant: str = "") -> str:
    """The joint, plug, wire or cable with just these two ends; of several the one that is `meant`, empty where there is none."""
    found = [e.id for e in sheet.elements if isinstance(e, Joint | Conductor) and set(e.points()) == {red, black}]
    return meant if meant in found else next(iter(found), "")


VIEWS = ("field", "map", "suspects", "evidence")
"""What a small screen shows of the Bench at a time."""


def bench_page(job: Job, log: JobLog, typed: Typed, entered: Entered = NOTHING, view: str = "") -> BenchPage:
    """Gather the Bench of a job; with nothing asked for, the leads stand at the next place to measure. `view` is what a small screen begins with."""
    work = work_of(job, log)
    scope = scope_of(job, log)
    engine, unready = ready_or_why(job, scope)
    found = verdicts(job, log, engine) if engine else None
    if not (typed.red or typed.black or typed.state or typed.instrument or entered.wrong):
        typed = _at_step(work, guide_of(job, log).step, found)
    return BenchPage(
        job=job,
        work=work,
        typed=typed,
        entered=entered,
        verdicts=found,
        unready=unready,
        scope=scope,
        view=view if view in VIEWS else VIEWS[0],
    )


def _at_step(work: Work, step: GuideStep, found: Verdicts | None) -> Typed:
    """The leads where the step says; once the part is found, where the last figure was read."""
    crank = work.sheet.cranking_state() or ""
    if r := step.reading:
        return Typed(
            red=r.red or "", black=r.black or "", branch=r.branch or "", state=r.state, instrument=r.instrument.value, itself=r.itself or ""
        )  # fmt: skip
    read = [r.reading for r in work.log.readings if r.across and r.counts and not r.screen]
    if found and found.posterior.settled and read:
        return Typed(red=read[-1].red or "", black=read[-1].black or "", state=read[-1].state, instrument=Instrument.VOLTMETER.value)
    return Typed(state=crank, instrument=Instrument.VOLTMETER.value)


def _by_suspect(
    job: Job, instrument: Instrument, red: str, black: str, branch: str, state: str, found: Verdicts | None, scope: Scope
) -> tuple[tuple[str, float], ...]:
    """What the leading suspects would show at the leads as they stand."""
    engine = ready_or_why(job, scope)[0]
    if engine is None or found is None or instrument not in (Instrument.VOLTMETER, Instrument.CLAMP, Instrument.EYES, Instrument.LOAD):
        return ()
    if instrument is Instrument.CLAMP:
        reading = Reading(instrument=instrument, branch=branch, state=state, value=0.0)
    elif instrument is Instrument.EYES:
        reading = Reading(instrument=instrument, state=state, word="nothing")
    elif red and black and red != black:
        reading = Reading(instrument=instrument, red=red, black=black, state=state, value=0.0)
    else:
        return ()
    told = next((t.by_suspect for t in found.tests if same_place(t.reading, reading)), None)
    if told is not None:  # worked out with the test already
        return told
    return tuple(would_read(engine, found.posterior, reading, [s.element for s in found.posterior.suspects[:3]]))
