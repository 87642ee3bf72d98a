"""What the Bench shows, gathered: the drawing, the field, the expected value, the next probe, the evidence."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import chain
from typing import ClassVar

from markupsafe import Markup

from iron_probe.core.bench.allowance import SCHOOLS, School, element_allowance_v
from iron_probe.core.bench.drop import JudgedDrop
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.network import branch_id
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import (
    AROUND,
    BRIDGES,
    LAMPS,
    UNIT,
    WORDS,
    Aid,
    Instrument,
)
from iron_probe.core.diagnose.next_test import ORDER_REASON, Order
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.draw.drop_bars import DropBar, drop_bars
from iron_probe.core.draw.feed_map import FeedMap, MapBranch, MapPoint
from iron_probe.core.draw.stair import StairPicture, draw_stair
from iron_probe.core.guide.step import GuideStep
from iron_probe.core.job.confirmed import confirmed
from iron_probe.core.job.experience import Experience
from iron_probe.core.job.fold import JobLog, LoggedReading
from iron_probe.core.job.job import Job
from iron_probe.core.solve.solution import Symptom
from iron_probe.web import words
from iron_probe.web.bench.drawing import ALL, Folding, folding_of, ink_of, map_of, options_of, point_list, points_of, stubs_of
from iron_probe.web.bench.evidence_rows import evidence_row
from iron_probe.web.bench.leads import OFFERED, Leads, probe_part
from iron_probe.web.bench.typed import Typed
from iron_probe.web.entry import NOTHING, Entered
from iron_probe.work.drop_work import Work, work_of
from iron_probe.work.guide_work import guide_of, scope_of
from iron_probe.work.verdicts import ready_or_why, verdicts
from iron_probe.work.word import Verdicts

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

    @property
    def experience(self) -> Experience:
        """What the yard had found on this kind of machine, if the job goes by it."""
        return Experience.of(self.job.experience)

    @cached_property
    def probe(self) -> Leads:
        return probe_part(self.job, self.typed, self.verdicts, self.scope)

    @cached_property
    def folding(self) -> Folding:
        return folding_of(self.sheet, self.scope, self.typed.open.split(","), (self.probe.red, self.probe.black))

    @property
    def opened(self) -> str:
        """The tracks opened beside those of the work, as the address names them."""
        return ",".join(sorted(self.folding.opened)) if self.folding.work else ALL

    @cached_property
    def drawing(self) -> FeedMap:
        return map_of(self.folding)

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
        return ink_of(self.folding, self.probe.state)

    @property
    def points(self) -> Markup:
        return points_of(self.folding)

    @property
    def stubs(self) -> Markup:
        return stubs_of(self.folding, self.opened)

    @property
    def point_list(self) -> Markup:
        return point_list(self.sheet)

    @property
    def part_options(self) -> Markup:
        """Every part: its plug may be off, or it may be out."""
        return options_of(self.sheet, "parts", ((e.id, e.title) for e in self.sheet.elements))

    @property
    def point_options(self) -> Markup:
        """Every point: a jumper may be left between two."""
        return options_of(self.sheet, "points", ((name, p.title) for name, p in self.sheet.points.items()))

    @property
    def branch_options(self) -> Markup:
        """Branches, and the parts that have several as a whole: a clamp goes around one, a look takes in all."""
        named = ((e, b) for e in self.sheet.elements for b in e.branches())
        parts = ((e.id, e.title) for e in self.sheet.elements if len(e.branches()) > 1)
        return options_of(
            self.sheet, "branches", chain(((branch_id(o, b), o.title + (f", {b.name}" if b.name else "")) for o, b in named), parts)
        )

    @property
    def states(self) -> tuple[str, ...]:
        """The states of the job's work; one of another only while the leads stand in it."""
        offered = states_of(self.sheet, self.scope)
        return offered if self.probe.state in offered else (*offered, self.probe.state)

    @cached_property
    def volts(self) -> tuple[tuple[MapPoint, str], ...]:
        """What each point of the map should show against battery minus on a sound machine in this state, where that is asked for."""
        if not self.typed.volts:
            return ()
        good = good_machine(self.sheet, self.probe.state, self.job.conditions).solution
        shown = {p: "free" if good.floating(p)[0] else words.volts(float(good.volts[n, 0])) for n, p in enumerate(good.network.points)}
        return tuple((p, shown[p.id]) for p in self.drawing.points)

    @cached_property
    def shares(self) -> tuple[tuple[MapBranch, float, float], ...]:
        """What each part of the heavy path should lose in this state on a sound machine, and what it may [V], where the map says what points should show."""
        board = self.work.board
        if not self.typed.volts or board is None:
            return ()
        good = good_machine(self.sheet, self.probe.state, self.job.conditions).solution
        parts = [b for b in self.drawing.branches if b.id in (*board.heavy.supply, *board.heavy.ground)]
        return tuple((b, abs(float(good.drop(b.id)[0])), element_allowance_v(self.sheet.element(b.element), board.limits)) for b in parts)

    @property
    def confirmed(self) -> frozenset[str]:
        """Parts of the drawing that this machine has confirmed."""
        return confirmed(self.log, self.sheet)

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
            evidence_row(
                r,
                judged.get(r.number),
                self.sheet,
                past=r.epoch < epoch,
                version=self.job.pinned.number,
                source=source,
                job=self.job.number,
            )
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


VIEWS = ("field", "map", "suspects", "evidence")
"""What a small screen shows of the Bench at a time."""


def bench_page(job: Job, log: JobLog, typed: Typed, entered: Entered = NOTHING, view: str = "") -> BenchPage:
    """Gather the Bench of a job; with nothing asked for, the leads stand at the next place to measure. `view` is what a small screen begins with."""
    work = work_of(job, log)
    scope = scope_of(job, log)
    engine, unready = ready_or_why(job, scope)
    found = verdicts(job, log, engine) if engine else None
    if not (typed.red or typed.black or typed.state or typed.instrument or entered.wrong):
        typed = replace(_at_step(work, guide_of(job, log).step, found), open=typed.open, volts=typed.volts)
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
    if (r := step.reading) and not work.job.alone:
        return Typed(
            red=r.red or "", black=r.black or "", branch=r.branch or "", state=r.state, instrument=r.instrument.value, itself=r.itself or ""
        )  # fmt: skip
    read = [r.reading for r in work.log.readings if r.across and r.counts and not r.screen]
    if (work.job.alone or (found and found.posterior.settled)) and read:
        return Typed(red=read[-1].red or "", black=read[-1].black or "", state=read[-1].state, instrument=Instrument.VOLTMETER.value)
    return Typed(state=crank, instrument=Instrument.VOLTMETER.value)
