"""One suspect looked at: what it predicts for each reading against what was read."""

from dataclasses import dataclass

from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Element
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.fault_mode import on_itself
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.draw.marks import marks
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.solve.symptom import SYMPTOMS, symptom_codes
from iron_probe.work.ensembles import Ready
from iron_probe.work.verdicts import evidence_of, ready, verdicts, would_read

_NUMERIC = (Instrument.VOLTMETER, Instrument.CLAMP, Instrument.LOAD)
WAIT_S = 20.0


@dataclass(frozen=True, slots=True, kw_only=True)
class PredictedLine:
    """A reading with what a good machine and this suspect would show (SI, or the code of a word; None where it is not predicted)."""

    number: int
    reading: Reading
    good: float | str | None
    predicted: float | str | None

    @property
    def marks(self) -> tuple[float, float, float] | None:
        """Places of good, predicted and read on one scale; None where one of them is a word or unknown."""
        figures = (self.good, self.predicted, self.reading.value)
        numbers = [f for f in figures if isinstance(f, float)]
        if len(numbers) < len(figures):
            return None
        good, predicted, read = marks(numbers)
        return good, predicted, read


@dataclass(frozen=True, slots=True, kw_only=True)
class SuspectCard:
    """A suspect with its modes and its lines; `proven` when its own test agrees; `mark` what was said of it."""

    sheet: Sheet
    element: Element
    p: float
    modes: tuple[tuple[str, float], ...]
    lines: tuple[PredictedLine, ...]
    proven: bool
    struck_by: int | None
    mark: str
    work: Scope
    own: tuple[Reading, ...] = ()
    """The test of its own that would prove or clear it; none where there is no such test."""


def _own_test(engine: Ready, element: str, mode: str) -> tuple[Reading, ...]:
    """The quickest test of a part's own, under the starter's current where it can be."""
    book, network = engine.book, engine.ensemble.network
    numbers = book.own_tests(element, mode)
    if not numbers:
        return ()
    reading = book.candidates[min(numbers, key=lambda k: (not book.cranking[k], float(book.own_minutes[k])))].reading
    if reading.instrument is Instrument.VOLTMETER and on_itself(network, element, mode):
        return (reading.model_copy(update={"branch": element}),)
    return (reading,)


def suspect_card(job: Job, log: JobLog, element_id: str, work: Scope = Scope.STARTING) -> SuspectCard:
    """Gather a suspect's card under the work it is suspected in; SolveError when the sheet has no such element."""
    sheet = job.sheet
    element = sheet.element(element_id)
    engine = ready(job, WAIT_S, work)
    readings, numbers = evidence_of(job, log, work)
    if engine is None:
        return SuspectCard(sheet=sheet, element=element, p=0.0, modes=(), lines=(), proven=False, struck_by=None, mark="", work=work)
    found = verdicts(job, log, engine)
    lines = []
    for number, reading in zip(numbers, readings, strict=True):
        predicted = good = None
        if reading.instrument in (*_NUMERIC, Instrument.EYES):
            told = would_read(engine, found.posterior, reading, [element_id])
            predicted = _word(reading, told[0][1]) if told else None
            good = _good(job, reading)
        lines.append(PredictedLine(number=number, reading=reading, good=good, predicted=predicted))
    suspect = next((s for s in found.posterior.suspects if s.element == element_id), None)
    struck = next((s.by_reading for s in found.posterior.eliminated if s.element == element_id), None)
    return SuspectCard(
        sheet=sheet,
        element=element,
        p=suspect.p if suspect else 0.0,
        modes=suspect.modes if suspect else (),
        lines=tuple(sorted(lines, key=lambda line: line.number)),
        proven=found.posterior.found == element_id,
        struck_by=numbers[struck - 1] if struck else None,
        mark=log.marks.get(element_id, ""),
        work=work,
        own=_own_test(engine, element_id, suspect.modes[0][0]) if suspect and suspect.modes else (),
    )


def _good(job: Job, reading: Reading) -> float | str | None:
    machine = good_machine(job.sheet, reading.state, job.conditions)
    if reading.instrument is Instrument.VOLTMETER:
        return machine.expected(reading.red or "", reading.black or "")[0]
    if reading.instrument is Instrument.CLAMP:
        return abs(machine.expected_amps(reading.branch or "")[0])
    return SYMPTOMS[int(symptom_codes(machine.solution)[0])].value if reading.instrument is Instrument.EYES else None


def _word(reading: Reading, value: float) -> float | str:
    return (
        SYMPTOMS[int(value)].value
        if reading.instrument is Instrument.EYES
        else abs(value)
        if reading.instrument is Instrument.CLAMP
        else value
    )
