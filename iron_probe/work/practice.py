"""The practice bay at work: a case begun as a job of its own, the stand-in meter read where the leads are, what was repaired mended in the machine."""

import contextlib
import threading
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from uuid import UUID, uuid5

from sqlmodel import Session

from iron_probe.bay.acts import Act, Handled
from iron_probe.bay.as_typed import asked_by, typed
from iron_probe.bay.cabin import Cabin, cabin_of
from iron_probe.bay.case import DRAIN, FUSE, Level, PracticeCase, draw_case, faults_of
from iron_probe.bay.cost import cost
from iron_probe.bay.handling import bridged, way_through
from iron_probe.bay.handling import handle as handle_in
from iron_probe.bay.in_bay import InBay
from iron_probe.bay.marks import Worked, marks, worked_on
from iron_probe.bay.replay import Replay, par, replayed
from iron_probe.bay.sound import sound_peaks
from iron_probe.bay.yard_case import case_like
from iron_probe.core.bench.drain.currents import Way
from iron_probe.core.circuit.read_sheet import read_sheet
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.diagnose.scope import states_of
from iron_probe.core.errors import IronProbeError, ReadingError
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Actor, Job
from iron_probe.core.kept import Kept
from iron_probe.machines import load_sheet, sheet_text
from iron_probe.rig.catalogue import HiddenFault
from iron_probe.rig.errors import RigError
from iron_probe.rig.spice import Spice
from iron_probe.store import queries
from iron_probe.store.practice import PracticeRow, case_row, keep_case
from iron_probe.store.tables import JobRow
from iron_probe.work import drain_replay
from iron_probe.work.ensembles import Ready, Wanted, wanted
from iron_probe.work.guide_work import scope_of
from iron_probe.work.jobs import TakeIn, find_job, take_in
from iron_probe.work.logs import job_log
from iron_probe.work.machines import NewMachine, keep_checked
from iron_probe.work.sheets import sheet_of
from iron_probe.work.summary import repaired_on
from iron_probe.work.verdicts import case_of, evidence_of

MOST_HANDLED = 60
HIGHEST_NUMBER = 999_999
_MACHINES = UUID("6f1f6a4c-52a7-4a0c-9d6c-2f0c3f4f8a11")
_cases: Kept[tuple[Level, str, int], PracticeCase | None] = Kept("practice cases", 64)
"""What numbers came to: one that took longer to draw than a page is waited for is there when it is sent again."""
_bays: Kept[tuple[object, ...], InBay] = Kept("practice machines", 12)
_hands = threading.Lock()
_spice: list[Spice] = []


class BayError(IronProbeError):
    """The practice machine cannot be had now; the text says why and what to do."""


@contextlib.contextmanager
def hands_on() -> Iterator[None]:
    """One pair of hands a process: ngspice is asked one thing after the other. One that died is let go and started anew when it is next
    asked. BayError where the machine does not answer."""
    with _hands:
        try:
            yield
        except RigError as error:
            for one in _spice:
                one.close()
            _spice.clear()
            _bays.clear()
            told = f"The practice machine does not answer: {error}. Try again; where it stays so, ngspice is missing here or cannot run"
            raise BayError(told) from error


def spice() -> Spice:
    """This process's ngspice, started when it is first asked for; RigError where the program is missing."""
    if not _spice:
        _spice.append(Spice())
    return _spice[0]


Story = Callable[[PracticeCase, tuple[str, str] | None], str]
"""Words what a case's owner says; given the fuse they have seen blow and the state it did in, if one does."""


def begin(session: Session, case_id: UUID, asked: tuple[Level, str, int], story: Story, actor: Actor, *, alone: bool = False) -> Job:
    """A case (level, machine, number) as a job of somebody's own, worked `alone` without the guide or with it; the same id twice is one.
    ReadingError where this machine shows nothing of that level."""
    level, sheet_id, number = asked
    sheet = load_sheet(sheet_id)
    with hands_on():
        case = _cases.get(asked, lambda: draw_case(sheet_id, level, number, spice()))
        if case is None:
            raise ReadingError(
                f"Nothing of this level shows on {sheet.title.lower()} with number {number}: choose another machine, level or number"
            )
        seen = machine_with(sheet, case.seed, case.faults).first_blown() if level is Level.FUSE else None
    return _keep(session, case_id, case, sheet_text(sheet_id), story(case, seen), actor, alone=alone)


def begin_like(session: Session, case_id: UUID, number: int, actor: Actor, *, alone: bool = False) -> Job:
    """A case made from a closed job of the yard: its own machine, a fault of the part that was repaired, its owner's words. ReadingError for a job that
    makes none, with the reason."""
    source = find_job(session, number)
    if source is None or source.deleted_at is not None or source.practice:
        raise ReadingError(f"The yard has no job {number}: a case is made from one of its closed jobs, by number")
    if source.closed_at is None:
        raise ReadingError(f"Job {number} is still open: a case is made from it once it is closed")
    repaired = [e.id for e in repaired_on(job_log(session, source), source.sheet)]
    if not repaired:
        raise ReadingError(f"Nothing was repaired on job {number}: a case needs a part that was at fault")
    digest = source.pinned.content_hash
    with hands_on():
        case = case_like(sheet_of(session, digest), repaired, source.symptom, number, spice())
    if case is None:
        raise ReadingError(f"No fault of what was repaired on job {number} is complained of as its owner did: choose another job")
    return _keep(session, case_id, case, queries.sheet_text(session, digest), source.complaint, actor, alone=alone)


def _keep(session: Session, case_id: UUID, case: PracticeCase, text: str, complaint: str, actor: Actor, *, alone: bool) -> Job:
    """The case as a job on a machine of its own, whose first version is what the rig builds."""
    title = read_sheet(text).title
    machine = NewMachine(id=uuid5(_MACHINES, str(case_id)), name=f"Practice: {title}"[:80], practice=True)
    kept = keep_checked(session, machine, text, f"for practice, from {case.sheet_id}", actor)
    said = {"complaint": complaint, "symptom": case.symptom, "practice": True, "unguided": alone}
    job = take_in(session, TakeIn(case_id, said), kept)
    row = PracticeRow(
        job_id=job.id, level=case.level.value, sheet_id=case.sheet_id, number=case.number, seed=case.seed, faults=case.kept(), by=actor.name
    )
    keep_case(session, row)
    return job


def drawing_of(session: Session, row: PracticeRow) -> Sheet:
    """The circuit that a case's machine is built from: the first version of its machine, whatever was drawn on it since."""
    return sheet_of(session, queries.version_or_newest(session, uuid5(_MACHINES, str(row.job_id)), 1).content_hash)


def machine_now(session: Session, job: Job, log: JobLog) -> InBay:
    """The machine as it stands: with the faults that the repairs so far left in it. ReadingError for a job that is none of the bay's."""
    row = case_row(session, job.id)
    if row is None:
        raise ReadingError("This job is no practice: its machine stands in the yard, and only a real meter reads it")
    repaired = tuple(repair.elements for repair in log.repairs)
    return _bays.get((job.id, repaired, len(row.handled)), lambda: _built(session, row, job.sheet, repaired))


def _built(session: Session, row: PracticeRow, drawn: Sheet, repaired: tuple[tuple[str, ...], ...]) -> InBay:
    """The machine with what was repaired on the drawing of today and what hands did, each in its turn."""
    bay = machine_with(drawing_of(session, row), row.seed, faults_of(row.faults))
    for turn in range(len(repaired) + 1):
        for done in row.handled:
            if min(done.get("repairs", len(repaired)), len(repaired)) == turn:
                handle_in(bay, Act(done["by"]), done["element"], done["state"])
        if turn < len(repaired):
            bay.mend([own for part in repaired[turn] if (own := bay.own_part(drawn, part))])
    return bay


def handle(session: Session, job: Job, log: JobLog, by: str, element: str, state: str) -> Handled:
    """Lay a hand on a part, warm, wet, part or bridge it, put an ammeter in its place, or let time pass; it costs minutes. ReadingError for what cannot be done."""
    row = case_row(session, job.id)
    if row is None or job.closed_at is not None:
        raise ReadingError("Hands are laid on a practice machine while its job is open")
    if by not in {a.value for a in Act}:
        raise ReadingError(f"Hands know {', '.join(a.value for a in Act)}: choose one of these")
    drawn = "" if by == Act.TIME else job.sheet.element(element).id
    job.sheet.state(state)
    if len(row.handled) >= MOST_HANDLED:
        raise ReadingError(f"Hands were laid on it {MOST_HANDLED} times: measure now")
    with hands_on():
        bay = machine_now(session, job, log)
        own = bay.own_part(job.sheet, drawn) if drawn else ""
        if drawn and not own:
            raise ReadingError("What was drawn there touches no part of this machine: choose one beside it")
        if by in (Act.BRIDGE, Act.SERIES):
            way_through(bay.sheet.element(own))
        row.handled = [*row.handled, {"by": by, "element": own, "state": state, "repairs": len(log.repairs)}]
        session.add(row)
        try:
            done = machine_now(session, job, log).handled[-1]
        except RigError:  # what ngspice cannot solve was not done
            session.rollback()
            raise
        session.commit()
        return done


def machine_with(sheet: Sheet, seed: int, faults: Sequence[HiddenFault]) -> InBay:
    """A machine of a sheet by its seed, with some faults in it."""
    return InBay(sheet, seed, sound_peaks(sheet, spice()), spice(), list(faults))


def meter_shows(session: Session, job: Job, log: JobLog, sent: Mapping[str, str]) -> dict[str, str]:
    """What is typed into a page's field, were the stand-in meter read as that field says. ReadingError where it cannot be."""
    with hands_on():
        bay = machine_now(session, job, log)
        if sent.get("instrument"):
            return _reading(bay, sent)
        if sent.get("where") and sent.get("way"):
            if sent["way"] not in {w.value for w in Way}:
                raise ReadingError("The bay knows no such probe: choose clamp, drop over the fuse, or the total with it out")
            return {"value": bay.probed(sent["where"], Way(sent["way"]))}
        if sent.get("at") == "total":
            return {"value": f"{1000 * bay.total_a():.0f} mA"}
    raise ReadingError("No stand-in reads this field: the bay has a meter, a clamp, test lamps and a pair of ears")


def _reading(bay: InBay, sent: Mapping[str, str]) -> dict[str, str]:
    sheet = bay.sheet
    points = [p for p in (sent.get("red"), sent.get("black")) if p]
    part = (sent.get("branch") or "").partition(".")[0]
    if sent.get("state") not in sheet.states or any(p not in sheet.points for p in points):
        raise ReadingError("The leads are on no point of this machine, or its state is none of its own: choose them from the lists")
    if part and all(part != e.id for e in sheet.elements):
        raise ReadingError("This machine has no such part")
    if sent["instrument"] not in {i.value for i in Instrument}:
        raise ReadingError("The bay has no such instrument")
    try:
        return typed(bay.read(asked_by(sent)))
    except (KeyError, ValueError, StopIteration, AssertionError) as error:
        raise ReadingError("The stand-in cannot take this reading here: both leads on points, or the clamp round a wire") from error


def cabin(session: Session, job: Job, log: JobLog, state: str, after: Handled | None = None) -> Cabin:
    """What is heard and seen from the seat in a state of the machine, brought about anew, or held `after` what hands did in it. ReadingError for a
    state it has not."""
    with hands_on():
        bay = machine_now(session, job, log)
        if state not in bay.sheet.states:
            raise ReadingError("The machine has no such state: choose one from the list")
        with bridged(bay, after.element) if after is not None and after.act is Act.BRIDGE else contextlib.nullcontext():
            return cabin_of(bay, state, held=after is not None)


@dataclass(frozen=True, slots=True)
class Result:
    """How a case was worked on its `sheet`, its marks, and its replay once that was worked out; `hidden` is told only of one that is closed, with
    what its customer would have paid at the engine's minutes for the parts that were at fault [crowns]."""

    row: PracticeRow
    sheet: Sheet
    worked: Worked
    marks: int
    replay: Replay | None
    hidden: tuple[HiddenFault, ...]
    par_cost: int | None = None


def result(session: Session, job: Job, log: JobLog) -> Result:
    """How a case stands. ReadingError for a job that is none of the bay's."""
    closed = job.closed_at is not None
    with hands_on():
        bay = machine_now(session, job, log)
        done = worked_on(log, bay, job.sheet, closed)
    row = case_row(session, job.id)
    assert row is not None
    replay = Replay.model_validate(row.replay) if row.replay is not None and closed else None
    par_minutes = replay.par_minutes if replay else None
    got = marks(done, par_minutes, replay.idle if replay else 0)
    hidden = faults_of(row.faults) if closed else ()
    paid = None if par_minutes is None else cost(bay.sheet, par_minutes, dict.fromkeys(f.element for f in hidden))
    return Result(row, bay.sheet, done, got, replay, hidden, paid)


def work_replay(session: Session, job_id: UUID, engine_of: Callable[[Wanted], Ready]) -> None:
    """Work the replay of a closed case out and keep it; without steps where the engine has no word on such work."""
    row, number = case_row(session, job_id), session.get_one(JobRow, job_id).number
    job = find_job(session, number)
    if row is None or row.replay is not None or job is None:
        return
    log = job_log(session, job)
    found = _replay(session, row, (job, log), engine_of)
    with hands_on():
        done = worked_on(log, machine_now(session, job, log), job.sheet, job.closed_at is not None)
    row.replay, row.marks = found.model_dump(mode="json"), marks(done, found.par_minutes, found.idle)
    session.add(row)
    session.commit()


def _replay(session: Session, row: PracticeRow, of: tuple[Job, JobLog], engine_of: Callable[[Wanted], Ready]) -> Replay:
    """The replay of a job by its log: probes of a drain by the guide, readings by the engine; without steps where nobody said which fuse blows."""
    job, log = of
    drawing, faults = drawing_of(session, row), faults_of(row.faults)
    if job.symptom == DRAIN:
        with hands_on():
            minutes, tests = drain_replay.par(job, log, machine_with(drawing, row.seed, faults))
        return Replay(probes=drain_replay.probed(job, log), par_minutes=minutes, par_tests=tests)
    told = JobLog(others=tuple(k for k, _ in log.tests("trip") if k.epoch == 0))
    if job.symptom == FUSE and not told.others:
        return Replay()
    work = scope_of(job, log)
    engine = engine_of(wanted(job.sheet, job.temp_degc, work))
    heard, _ = evidence_of(job, told, work)
    inside = states_of(job.sheet, work)
    taken = [(r.number, r.reading) for r in log.readings if r.epoch == 0 and r.counts and r.reading.state in inside]
    with engine.lock, hands_on():
        case = case_of(job, told, engine)
        steps = replayed(case, engine.book, heard, taken)
        return Replay.of(steps, *par(case, engine.book, heard, machine_with(drawing, row.seed, faults)))
