"""A job's log put to the guide: what it is about, where it stands, and the one step to take, for every screen alike."""

from iron_probe.core.bench.retest import Retest
from iron_probe.core.circuit.faults import FED_ELSEWHERE
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.guide.guide import Facts, guide
from iron_probe.core.guide.route import Concern
from iron_probe.core.guide.step import Guide, How
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import DrainLine
from iron_probe.core.solve.solution import Symptom
from iron_probe.work.charge_work import output_verdict
from iron_probe.work.drain_work import drain_word, drain_work
from iron_probe.work.drop_work import work_of
from iron_probe.work.verdicts import ready_or_why, verdicts
from iron_probe.work.word import Verdicts

CONCERN_OF = {
    "no_charge": Concern.CHARGING,
    "overcharge": Concern.CHARGING,
    "drain": Concern.DRAIN,
    "fuse": Concern.FUSE,
}
"""What a complaint is about, where it is not how it cranks."""
CRANKS_BADLY = frozenset(s.value for s in Symptom if s is not Symptom.CRANKS)
"""Complaints of how a machine cranks: whatever else is read on such a job, it is about that."""
PAGE_OF = {Concern.STARTING: "", Concern.CHARGING: "/charge", Concern.DRAIN: "/drain", Concern.FUSE: "/fuse"}
"""The screen that a concern is worked on."""
SCOPE_OF = {Concern.STARTING: Scope.STARTING, Concern.CHARGING: Scope.CHARGING}
"""The kind of work the engine does for it."""


def concern_of(job: Job, log: JobLog) -> Concern:
    """What a job is about: how it cranks where that is complained of, else by what was begun on it."""
    if job.symptom in CRANKS_BADLY:
        return Concern.STARTING
    if log.lines(DrainLine):
        return Concern.DRAIN
    counting = log.counting(log.epoch)
    if log.tests("trip") and not counting:
        return Concern.FUSE
    cranked = any(job.sheet.states[r.reading.state].cranking for r in counting)
    if not cranked and output_verdict(job, counting) is not None:
        return Concern.CHARGING
    if not counting or job.symptom in ("no_charge", "overcharge"):
        return CONCERN_OF.get(job.symptom, Concern.STARTING)
    return Concern.STARTING


def scope_of(job: Job, log: JobLog) -> Scope:
    """The kind of work whose suspects the Bench of a job shows: charging where that is what it is about, else how it cranks."""
    return SCOPE_OF.get(concern_of(job, log), Scope.STARTING)


def guide_of(job: Job, log: JobLog) -> Guide:
    """Route and step of a job as its log stands; with the engine's word where that is ready, in the trade's order until it is."""
    concern = concern_of(job, log)
    word = word_on(job, log, concern)
    work = work_of(job, log)
    board, settled = work.board, word.posterior.sound if word else bool(work.board and work.board.sound)
    scope = SCOPE_OF.get(concern)
    inside = states_of(job.sheet, scope) if scope else list(job.sheet.states)
    culprits = () if word or board is None else tuple(board.element_of(j) for j in board.culprits())
    return guide(Facts(
        sheet=job.sheet,
        concern=concern,
        symptom=job.symptom,
        readings=[r.reading for r in log.counting(log.epoch) if r.reading.state in inside],
        closed=job.closed_at is not None,
        repaired=log.epoch > 0,
        owed=[(c.red, c.black, c.state) for c in work.owed],
        passed=all(c.outcome is Retest.WITHIN for c in work.compared),
        tests=word.tests if word else (),
        numbers=word.numbers if word else (),
        how=_how(word),
        at_fault=(word.at_fault if word else culprits) if concern in SCOPE_OF else (),
        sound=settled,
        next_way=(board.next.red, board.next.black) if board and board.next else None,
        battery_tested=bool([k for k, _ in log.tests("battery") if k.epoch == log.epoch]),
        told=_told(job, log, concern),
    ))  # fmt: skip


def _how(word: Verdicts | None) -> How:
    """As what the engine found what is at fault."""
    if word is None:
        return How.SHARE
    if not word.at_fault:
        return How.PART
    left = word.posterior
    if left.found:
        return How.FED if left.suspects[0].mode == FED_ELSEWHERE else How.PART
    return How.BESIDE if left.found_beside else How.WAY


def word_on(job: Job, log: JobLog, concern: Concern) -> Verdicts | None:
    """The engine's word on a job's concern; None where it has none, or is not ready."""
    scope = SCOPE_OF.get(concern)
    engine = ready_or_why(job, scope)[0] if scope else None
    return verdicts(job, log, engine) if engine else None


def _told(job: Job, log: JobLog, concern: Concern) -> str:
    """What another bench says of the job so far, in a sentence."""
    if concern is Concern.DRAIN:
        return drain_word(drain_work(job, log)) if log.lines(DrainLine) else ""
    if concern is Concern.CHARGING and (judged := output_verdict(job, log.counting(log.epoch))) is not None:
        return f"{judged.text} {judged.next_step}".strip()
    if concern is Concern.FUSE and (blown := log.tests("trip")):
        subject = blown[-1][1].subject
        return next((e.title for e in job.sheet.elements if e.id == subject), subject)
    return ""
