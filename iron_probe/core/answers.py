"""Answers in stable shapes, the same for the command line and the API: sheets, a solved state, a diagnosis."""

from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.network import Network, branch_id, network_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.circuit.spice import netlist
from iron_probe.core.diagnose.apart import access_that_tells, tied, way_found
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.evidence import Instrument, Reading, check_reading
from iron_probe.core.diagnose.fault_mode import FaultMode
from iron_probe.core.diagnose.fault_modes import fault_modes, find_mode
from iron_probe.core.diagnose.next_test import Order, next_tests
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.errors import SolveError
from iron_probe.core.limits import OPENING_MINUTES
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Solution, swing
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes


class _Answer(BaseModel):
    model_config = ConfigDict(extra="forbid", populate_by_name=True, serialize_by_alias=True)


class ElementLine(_Answer):
    """An element of a sheet and the faults it may have."""

    id: str
    type: str
    title: str
    start: str = Field(alias="from")
    to: str
    faults: list[str]


class SheetAnswer(_Answer):
    """A sheet as others need it: its states, nodes and elements."""

    id: str
    title: str
    system_v: int
    states: list[str]
    nodes: list[str]
    elements: list[ElementLine]


class ElementFlow(_Answer):
    """Current through an element and voltage across it, both from its first to its last point."""

    amps: float
    drop_v: float


class SolveAnswer(_Answer):
    """A solved state: volts by node against battery minus, flow by element (and `element.part`), what is heard.

    Nodes in `floating` hang on nothing: their volts are of no meaning, a meter may show anything up to the source. In `unsteady`, by
    node, is how far a rattle swings to either side of its mean [V].
    """

    nodes: dict[str, float]
    elements: dict[str, ElementFlow]
    symptoms: list[str]
    floating: list[str] = []
    unsteady: dict[str, float] = {}


class SuspectLine(_Answer):
    """A suspect with its likeliest mode and its share; `comes` how much of it is a fault that comes and goes."""

    element: str
    mode: str
    p: float
    comes: float = 0.0


class StruckLine(_Answer):
    """An element struck out by a reading (number from 1)."""

    element: str
    by_reading: int


class NextLine(_Answer):
    """A test worth making: leads or branch, state, bits and minutes, what a sound machine shows, and why."""

    instrument: str
    red: str | None
    black: str | None
    branch: str | None
    state: str
    bits: float
    minutes: float
    expected_good: float | str
    why: str


class DiagnoseAnswer(_Answer):
    """A diagnosis of a list of readings."""

    suspects: list[SuspectLine]
    eliminated: list[StruckLine]
    found: str | None
    unexplained: list[int]
    off_sheet: float
    next: list[NextLine]
    tied: list[str] = Field(description="suspects no test on the points tells apart, when none is left to make")
    way: list[str] = Field([], description="conductors in one line of which one is at fault, when no test tells them apart")
    access: NextLine | None = Field(description="ohms with the plug off, or a jumper, that would tell the tied suspects apart")
    found_beside: str | None = Field(None, description="the part at whose end a joint was found that the drawing lacks")
    beside: dict[str, float] = Field({}, description="shares of such a joint, by the part beside it")
    grounded: dict[str, float] = Field(
        {}, description="shares, counted in off_sheet, of a way to ground that the drawing lacks, by the part at whose end"
    )
    no_fault: float = Field(0.0, description="share of there being nothing wrong")
    sound: bool = Field(False, description="nothing is wrong in what was tested, and what was complained of was tried and did not come")
    pair: tuple[str, str] | None = Field(None, description="two faults that together explain what no single one does")
    pair_share: float = Field(0.0, description="what the pair holds; it counts in the share of both")
    contradictory: list[int] = Field([], description="readings that disagree with another at the same place")
    work: Scope = Field(Scope.STARTING, description="the kind of work the readings were held against")
    version: int = Field(
        3,
        description="of this answer: 2 added away, no_fault, sound, pair and what it holds, contradictory, work and comes of a suspect; 3 added way and grounded",
    )
    away: list[int] = Field([], description="readings taken while a fault that comes and goes was away: they say nothing of where it lies")


def sheet_answer(sheet: Sheet) -> SheetAnswer:
    """Describe a sheet."""
    network = network_of(sheet)
    modes = fault_modes(network)
    lines = []
    for element in sheet.elements:
        points = element.points()
        faults = [m.name for m in modes if m.element == element.id]
        lines.append(ElementLine(id=element.id, type=element.type, title=element.title, start=points[0], to=points[-1], faults=faults))
    return SheetAnswer(
        id=sheet.id, title=sheet.title, system_v=sheet.system_v, states=list(sheet.states), nodes=list(sheet.points), elements=lines
    )


def parse_fault(text: str, modes: Sequence[FaultMode]) -> tuple[FaultMode, float]:
    """Read `element=mode` or `element=mode:severity`; SolveError says what is allowed.

    The severity is in the mode's own unit (Ω for a high resistance, a factor for a worn battery); without one, the middle of its range.
    """
    element, equals, rest = text.partition("=")
    name, colon, typed = rest.partition(":")
    if not equals or not name:
        raise SolveError(f"“{text}” is not a fault. Write element=mode or element=mode:severity, such as feed-cable=high_resistance:0.02")
    mode = find_mode(list(modes), element.strip(), name.strip())
    if not colon:
        return mode, float((mode.least * mode.most) ** 0.5)
    try:
        severity = float(typed.replace(",", "."))
    except ValueError:
        severity = -1.0
    if not 0 < severity < 1e12:
        raise SolveError(f"“{typed}” is not a severity: give a number above 0, for {mode.name} usually {mode.least:.3g} to {mode.most:.3g}")
    return mode, severity


def solve_with(sheet: Sheet, state: str, faults: Sequence[str], at: Conditions) -> tuple[Solution, Floats]:
    """Solve a state with faults given as text; the solution and the values (parameters, 1) it was solved for."""
    network = network_of(sheet, at)
    values = network.nominal[:, None].copy()
    if faults:
        modes = fault_modes(network)
        for text in faults:
            mode, severity = parse_fault(text, modes)
            mode.apply(values, np.array([severity]))
    return solve_state(network, state, values), values


def solve_answer(sheet: Sheet, state: str, faults: Sequence[str] = (), at: Conditions | None = None) -> SolveAnswer:
    """Solve a state and give every node and element."""
    solution, _ = solve_with(sheet, state, faults, at or Conditions())
    net = solution.network
    elements: dict[str, ElementFlow] = {}
    for number, (owner, branch) in enumerate(zip(net.owners, net.branches, strict=True)):
        drop = float(solution.volts[net.start[number], 0] - solution.volts[net.end[number], 0])
        flow = ElementFlow(amps=float(solution.amps[number, 0]), drop_v=drop)
        elements.setdefault(owner.id, flow)
        if branch.name:
            elements[branch_id(owner, branch)] = flow
        if branch.name == "contact":
            elements[owner.id] = flow
    volts = {p: float(v) for p, v in zip(net.points, solution.volts[:, 0], strict=True)}
    return SolveAnswer(
        nodes=volts,
        elements=elements,
        symptoms=[SYMPTOMS[int(symptom_codes(solution)[0])].value],
        floating=[p for p in net.points if solution.floating(p)[0]],
        unsteady={p: float(v) for p, v in zip(net.points, swing(solution.away_v[:, :, 0]), strict=True) if v > 0},
    )


def spice_answer(sheet: Sheet, state: str, faults: Sequence[str] = (), at: Conditions | None = None) -> str:
    """The netlist of a solved state."""
    solution, values = solve_with(sheet, state, faults, at or Conditions())
    return netlist(solution, values)


def work_told_by(sheet: Sheet, readings: Sequence[Reading]) -> Scope:
    """The kind of work that readings belong to: charging once one was taken with the engine running."""
    running = set(sheet.running_states())
    return Scope.CHARGING if any(r.state in running for r in readings) else Scope.STARTING


def diagnose_answer(case: Case, book: TestBook, readings: Sequence[Reading], order: Order = Order.BEST, most: int = 5) -> DiagnoseAnswer:
    """Hold readings against a case; raises ReadingError for one that does not fit the sheet."""
    network: Network = case.ensemble.network
    for reading in readings:
        check_reading(reading, network)
    posterior = case.posterior(readings)
    tests = [] if posterior.settled else next_tests(case, book, posterior, readings, order, most)
    left = [] if tests else tied(posterior)
    access = access_that_tells(case, posterior, readings) if left else None
    way = None if tests else way_found(posterior, case.ensemble.sheet, readings)
    return DiagnoseAnswer(
        suspects=[SuspectLine(element=s.element, mode=s.mode, p=s.p, comes=s.comes) for s in posterior.suspects],
        eliminated=[StruckLine(element=s.element, by_reading=s.by_reading) for s in posterior.eliminated],
        found=posterior.found,
        unexplained=list(posterior.unexplained),
        off_sheet=posterior.off_sheet,
        found_beside=posterior.found_beside,
        no_fault=posterior.no_fault,
        sound=posterior.sound,
        away=list(posterior.away),
        pair=posterior.pair,
        pair_share=posterior.pair_share,
        contradictory=list(posterior.contradictory),
        work=case.ensemble.work,
        beside=dict(posterior.beside),
        grounded=dict(posterior.grounded),
        next=[
            _next_line(
                t.reading, t.bits, t.minutes, t.why if t.again is None else f"reading {t.again} {t.why}",
                SYMPTOMS[int(t.expected_good)].value if t.reading.instrument is Instrument.EYES else t.expected_good,
            )
            for t in tests
        ],
        tied=left,
        way=list(way.elements) if way else [],
        access=None if access is None else _next_line(access.reading, access.bits, OPENING_MINUTES, f"tells {', '.join(left)} apart", "as the part alone should"),
    )  # fmt: skip


def _next_line(reading: Reading, bits: float, minutes: float, why: str, good: float | str) -> NextLine:
    return NextLine(
        instrument=reading.instrument.value, red=reading.red, black=reading.black, branch=reading.branch,
        state=reading.state, bits=bits, minutes=minutes, why=why, expected_good=good,
    )  # fmt: skip
