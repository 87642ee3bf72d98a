"""A job's log put to the guide: what it is about, where it stands, and the one step to take, for every screen alike."""

from dataclasses import replace

from iron_probe.core.bench.charging import has_charging
from iron_probe.core.bench.drain.currents import TOTAL
from iron_probe.core.bench.drain.feed_tree import UNLISTED
from iron_probe.core.bench.drain.suspects import within_named
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.bench.retest import Retest
from iron_probe.core.circuit.elements import Battery
from iron_probe.core.circuit.faults import FED_ELSEWHERE
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.next_test import Order
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.diagnose.test_book import same_place
from iron_probe.core.guide.drain_steps import DrainFacts
from iron_probe.core.guide.guide import Facts, guide
from iron_probe.core.guide.last_one import last_one
from iron_probe.core.guide.route import Concern
from iron_probe.core.guide.step import Guide, GuideStep, How
from iron_probe.core.job.fold import LOOKS, JobLog, LoggedReading
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import DrainLine
from iron_probe.core.kept import Kept
from iron_probe.core.limits import LONG_LOG_S
from iron_probe.core.solve.solution import Symptom
from iron_probe.work.charge_work import output_verdict
from iron_probe.work.drain_work import DrainWork, drain_word, drain_work
from iron_probe.work.drop_work import work_of
from iron_probe.work.ensembles import Ready
from iron_probe.work.fuse_work import seen_of
from iron_probe.work.standing import standing
from iron_probe.work.verdicts import evidence_of, ready_or_why, verdicts
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
WANTS_CHARGE = frozenset({"flat", "empty"})
"""Faults of a battery that a charger mends."""


def concern_of(job: Job, log: JobLog) -> Concern:
    """What a job is about: how it cranks where that is complained of, until it was repaired and cranks well and does not charge; else by what was begun
    on it."""
    counting = log.counting(log.epoch)
    output = output_verdict(job, counting)
    charges_badly = output is not None and output.verdict is Verdict.BAD
    if job.symptom in CRANKS_BADLY:
        return Concern.CHARGING if charges_badly and log.epoch and _cranks_well(job, counting) else Concern.STARTING
    if log.lines(DrainLine):
        return Concern.DRAIN
    if job.symptom == "drain":
        return Concern.CHARGING if charges_badly else Concern.DRAIN
    if job.symptom == "fuse" or (log.tests("trip") and not counting):
        return Concern.FUSE
    cranked = any(job.sheet.states[r.reading.state].cranking for r in counting)
    if not cranked and output is not None:
        return Concern.CHARGING
    if not counting or job.symptom in ("no_charge", "overcharge"):
        return CONCERN_OF.get(job.symptom, Concern.STARTING)
    return Concern.STARTING


def _cranks_well(job: Job, counting: tuple[LoggedReading, ...]) -> bool:
    heard = [r.reading.did for r in counting if r.reading.state == job.sheet.cranking_state() and r.reading.did]
    return bool(heard) and heard[-1] is Symptom.CRANKS


def page_of(job: Job, concern: Concern) -> str:
    """The screen that a concern is worked on; the Bench where the machine has no screen for it."""
    if concern is Concern.CHARGING:
        return "/charge" if has_charging(job.sheet) else ""
    return {Concern.DRAIN: "/drain", Concern.FUSE: "/fuse"}.get(concern, "")


def scope_of(job: Job, log: JobLog) -> Scope:
    """The kind of work whose suspects the Bench of a job shows: charging where that is what it is about, or a fuse that blows with the engine running,
    else how it cranks."""
    return _scope_of(job, log, concern_of(job, log))


def _scope_of(job: Job, log: JobLog, concern: Concern) -> Scope:
    seen = seen_of(log) if concern is Concern.FUSE else None
    running = seen is not None and bool(set(seen.blows) & set(job.sheet.running_states()))
    return Scope.CHARGING if concern is Concern.CHARGING or running else Scope.STARTING


def begins_on(job: Job) -> str:
    """The page that a job just taken in is begun on, by its complaint."""
    return page_of(job, CONCERN_OF.get(job.symptom, Concern.STARTING))


_guides: Kept[tuple[object, ...], Guide] = Kept("guides", 256)


def guide_of(job: Job, log: JobLog) -> Guide:
    """Route and step of a job as its log stands, worked out once for it; with the engine's word where that is ready, in the trade's order until it is."""
    concern = concern_of(job, log)
    engine, why = _engine_on(job, log, concern)
    awaited = engine is None and not why

    def now() -> Guide:
        return guide_by(job, log, concern, verdicts(job, log, engine) if engine else None, awaited=awaited)

    if concern is Concern.DRAIN or not log.seq:  # a drain waits by the clock, and a log made up by part of one has no number of its own
        return now()
    return _guides.get((*standing(job, log), concern, engine is None, awaited), now)


def guide_by(job: Job, log: JobLog, concern: Concern, word: Verdicts | None, *, awaited: bool) -> Guide:
    """Route and step of a job about something, by the engine's word on it if there is one."""
    sheet, work = job.sheet, work_of(job, log)
    board, settled = work.board, word.posterior.sound if word else bool(work.board and work.board.sound)
    culprits = () if word or board is None or concern is not Concern.STARTING else tuple(board.element_of(j) for j in board.culprits())
    scope = _scope_of(job, log, concern)
    inside, posts = states_of(sheet, scope), {sheet.plus, sheet.minus}
    counting = [r.reading for r in log.counting(log.epoch)]
    mended = log.repairs[-1].elements if log.repairs else ()
    seen = seen_of(log) if concern is Concern.FUSE else None
    drain = drain_work(job, log) if concern is Concern.DRAIN else None
    found = guide(Facts(
        sheet=sheet,
        concern=concern,
        symptom=job.symptom,
        readings=[r for r in counting if r.state in inside or {r.red, r.black} == posts],
        closed=job.closed_at is not None,
        repaired=log.epoch > 0,
        owed=[] if drain else [(c.red, c.black, c.state) for c in work.owed],
        passed=all(c.outcome is Retest.WITHIN or (c.outcome is Retest.OPEN and not c.was_off) for c in work.compared),
        charged=bool(mended) and all(isinstance(sheet.element(e), Battery) for e in mended),
        mended=[e for r in log.repairs for e in r.elements],
        tests=word.tests if word else (),
        numbers=word.numbers if word else (),
        awaited=awaited,
        how=_how(word, job),
        at_fault=word.at_fault if word else culprits,
        sound=settled,
        last_one=last_one(word.posterior) if word else None,
        odd_once=_odd_once(job, log, scope, word) if word else None,
        ways_first=job.method in ("", Order.BEST.value),
        next_way=(board.next.red, board.next.black) if board and board.next else None,
        battery_tested=log.newest_test("battery") is not None,
        drain=_drain_facts(drain, log) if drain else None,
        blows=(seen.fuse, seen.blows[0]) if seen and seen.blows else None,
        told=_told(job, log, concern),
        before=[r.reading for r in log.before(log.epoch)],
    ))  # fmt: skip
    return replace(found, step=_with_one_good(found.step, job))


def _with_one_good(step: GuideStep, job: Job) -> GuideStep:
    """The step with good as every field for such a reading shows it: that of the sound machine as drawn, where it is volts or amps of it."""
    test = step.test
    if test is None or test.reading.instrument not in (Instrument.VOLTMETER, Instrument.CLAMP):
        return step
    r, machine = test.reading, good_machine(job.sheet, test.reading.state, job.conditions)
    if r.instrument is Instrument.CLAMP:
        if r.branch not in machine.network.branch_row:
            return step
        good = abs(machine.expected_amps(r.branch)[0])
    else:
        good = machine.expected(r.red or "", r.black or "")[0]
    return replace(step, test=replace(test, expected_good=good))


def _drain_facts(work: DrainWork, log: JobLog) -> DrainFacts:
    """Where a drain hunt stands. A total read before the machine was locked again says nothing of it now."""
    total = work.present if work.present and (work.since is None or work.present.at >= work.since) else None
    asleep = work.waited_minutes is not None and work.waited_minutes >= work.sheet.sleep_minutes
    named = [n.where for n in work.finding.named]
    elements = {e.id for e in work.sheet.elements}
    seats = {c.branch: c.element for c in work.tree.consumers}
    culprits = [e for w in named if (e := seats.get(w, "") if w.startswith(UNLISTED) else w.partition(".")[0]) in elements]
    normal = [e for e in work.totals if e.amps and (work.since is None or e.at >= work.since)]
    span_s = (normal[-1].at - normal[0].at).total_seconds() if len(normal) > 1 else 0.0
    return DrainFacts(
        latched=work.since is not None,
        until=None if asleep else work.until,
        total=work.judged.verdict if total and work.judged else None,
        level=work.level_a is not None and (total is None or work.judged is None or work.judged.verdict is Verdict.BAD),
        no_sleeper=work.no_sleeper,
        probes=work.probes,
        inner=within_named(work.tree, work.finding, work.probes),
        culprits=tuple(dict.fromkeys(culprits)),
        closes=work.finding.closes,
        recorded=span_s >= float(LONG_LOG_S),
        told=drain_word(work),
        totals=any(line.where == TOTAL for _, line in log.lines(DrainLine)),
        split=any(line.where != TOTAL for _, line in log.lines(DrainLine)),
    )


def _odd_once(job: Job, log: JobLog, scope: Scope, word: Verdicts) -> tuple[int, Reading] | None:
    """A reading that others at the same points did not bear out, with its number, while there are fewer looks at that place than count at most."""
    readings, numbers = evidence_of(job, log, scope)
    for at in word.posterior.contradictory:
        number, odd = numbers[at - 1], readings[at - 1]
        if number and sum(same_place(odd, r) for r in readings) < LOOKS:
            return number, odd
    return None


def _how(word: Verdicts | None, job: Job) -> How:
    """As what the engine found what is at fault."""
    if word is None:
        return How.SHARE
    if not word.at_fault:
        return How.PART
    left = word.posterior
    if left.found:
        mode = left.suspects[0].mode
        flat = isinstance(job.sheet.element(left.found), Battery) and mode in WANTS_CHARGE
        return How.CHARGE if flat else How.FED if mode == FED_ELSEWHERE else How.PART
    return How.BESIDE if left.found_beside else How.WAY


def word_on(job: Job, log: JobLog) -> Verdicts | None:
    """The engine's word on what a job is about; None where it has none, or is not ready."""
    engine = _engine_on(job, log, concern_of(job, log))[0]
    return verdicts(job, log, engine) if engine else None


def awaits_engine(job: Job, log: JobLog) -> bool:
    """Whether the engine has a say in what a job is about, and is still being worked out."""
    return _engine_on(job, log, concern_of(job, log)) == (None, "")


def _engine_on(job: Job, log: JobLog, concern: Concern) -> tuple[Ready | None, str]:
    """The engine that has a say in what a job is about, if it is there, or the word why it is not and will not be. It has none in drains, nor in a fuse
    before it is said which blows."""
    if concern is Concern.DRAIN or (concern is Concern.FUSE and seen_of(log) is None):
        return None, "the engine has no say"
    return ready_or_why(job, _scope_of(job, log, concern))


def _told(job: Job, log: JobLog, concern: Concern) -> str:
    """What another bench says of the job so far, in a sentence."""
    if concern is Concern.CHARGING and (judged := output_verdict(job, log.counting(log.epoch))) is not None:
        return judged.text + (" " + judged.next_step if judged.next_step else "")
    if concern is Concern.FUSE and (blown := log.tests("trip")):
        subject = blown[-1][1].subject
        return next((e.title for e in job.sheet.elements if e.id == subject), subject)
    return ""
