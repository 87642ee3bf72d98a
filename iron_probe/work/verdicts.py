"""The engine's word on a job: which readings are evidence, what they leave, what to measure next."""

import hashlib
import json
from collections.abc import Callable, Sequence

from iron_probe.core.diagnose.apart import access_that_tells, tied, way_found
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.fault_modes import TAG_FACTOR
from iron_probe.core.diagnose.next_test import Order, next_tests
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.diagnose.told_test import predicted_by
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.experience import Experience, factors_on
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.core.kept import Kept
from iron_probe.core.solve.solution import Symptom
from iron_probe.work.ensembles import EnsembleError, Ready, code_hash, home, wanted
from iron_probe.work.fuse_work import seen_of
from iron_probe.work.leaning import leanings
from iron_probe.work.word import SharedWords, Verdicts


def ready(job: Job, wait_s: float = 0.0, work: Scope = Scope.STARTING) -> Ready | None:
    """The job's ensemble for a kind of work, or None while it is being worked out; waits up to `wait_s` [s]. EnsembleError when it
    cannot be."""
    asked = wanted(job.sheet, job.temp_degc, work)
    return home().wait_for(asked, wait_s) if wait_s else home().find(asked)


def ready_or_why(job: Job, work: Scope = Scope.STARTING) -> tuple[Ready | None, str]:
    """The job's ensemble if it is there, and the word why it cannot be had, if so."""
    try:
        return ready(job, work=work), ""
    except EnsembleError as error:
        return None, str(error)


def evidence_of(job: Job, log: JobLog, work: Scope = Scope.STARTING) -> tuple[list[Reading], tuple[int, ...]]:
    """The readings that count in the present epoch and in the states of this work, with their numbers. What intake heard is number 0: as a
    reading until a crank says something, as what was told once that is something else, since a fault may come and go. So is what was seen of a fuse that blows."""
    inside = states_of(job.sheet, work)
    counting = [r for r in log.counting(log.epoch) if r.reading.state in inside]
    readings, numbers = [r.reading for r in counting], [r.number for r in counting]
    state = job.sheet.cranking_state()
    heard = {h for r in readings if r.state == state and (h := r.did)}
    if work is Scope.STARTING and job.symptom in set(Symptom) - heard and state and log.epoch == 0:
        readings.insert(0, Reading(instrument=Instrument.EYES, state=state, word=job.symptom, told=bool(heard)))
        numbers.insert(0, 0)
    if log.epoch == 0 and (seen := seen_of(log)):
        fitted = [*((s, "blows") for s in seen.blows), *((s, "holds") for s in seen.holds)]
        told = [Reading(instrument=Instrument.NEW_FUSE, branch=seen.fuse, state=s, word=word) for s, word in fitted if s in inside]
        readings, numbers = [*told, *readings], [*(0 for _ in told), *numbers]
    return readings, tuple(numbers)


def case_of(job: Job, log: JobLog, engine: Ready) -> Case:
    """The job's case: elements it does not have left out, those marked, coded or failing a module check raised, all by what the yard has found."""
    raised = leanings(log, engine.ensemble.sheet)
    for element, factor in factors_on(engine.ensemble, Experience.of(job.experience)).items():
        raised[element] = raised.get(element, 1.0) * factor
    for element, tag in log.marks.items():
        if tag in TAG_FACTOR:
            raised[element] = raised.get(element, 1.0) * TAG_FACTOR[tag]
    return Case(engine.ensemble, absent=log.absent, raised=raised, fits=engine.fits, unseen=engine.book.unseen)


_verdicts: Kept[tuple[object, ...], Verdicts] = Kept("verdicts", 256)


def verdicts(job: Job, log: JobLog, engine: Ready) -> Verdicts:
    """Hold the job's readings against its ensemble; worked out once for a log as it stands, and while it is empty for all jobs alike."""
    work = engine.ensemble.work
    order = Order(job.method) if job.method in {o.value for o in Order} else Order.BEST
    if not log.seq and (log.readings or log.others):  # a log made up by part of one: no number tells it from others
        return _verdicts_now(job, log, engine, order)
    key = (
        (job.id, job.created_at, job.pinned.version_id) if log.seq else (),
        job.sheet.fingerprint,
        log.seq,
        work,
        order,
        job.symptom,
        json.dumps(job.experience, sort_keys=True),
        engine.ensemble.conditions,
    )
    return _verdicts.get(key, lambda: _shared(key, lambda: _verdicts_now(job, log, engine, order)))


def _shared(key: tuple[object, ...], make: Callable[[], Verdicts]) -> Verdicts:
    """The word another process of this host worked out on the same log, or made here and left for the others."""
    folder = home().folder
    if folder is None:
        return make()
    words = SharedWords(folder.with_name("words"))
    digest = hashlib.sha256(f"{key!r} {code_hash()}".encode()).hexdigest()[:40]
    found = words.find(digest)
    if found is None:
        found = make()
        words.keep(digest, found)
    return found


def _verdicts_now(job: Job, log: JobLog, engine: Ready, order: Order) -> Verdicts:
    readings, numbers = evidence_of(job, log, engine.ensemble.work)
    with engine.lock:
        case = case_of(job, log, engine)
        try:
            posterior = case.posterior(readings)
        except ReadingError as error:
            posterior = case.posterior([])
            return Verdicts(posterior=posterior, tests=(), numbers=(), order=order, refused=str(error))
        tests = () if posterior.settled else tuple(next_tests(case, engine.book, posterior, readings, order, most=4))
        left = () if tests else tuple(tied(posterior))
        access = access_that_tells(case, posterior, readings) if left else None
        way = None if tests else way_found(posterior, engine.ensemble.sheet, readings)
    return Verdicts(posterior=posterior, tests=tests, numbers=numbers, order=order, tied=left, access=access, way=way)


def first_word(job: Job, log: JobLog, wait_s: float, work: Scope = Scope.STARTING) -> Verdicts | None:
    """The engine's word on the machine as it came in, for a kind of work; None when it could not be had within `wait_s` [s]."""
    engine = ready(job, wait_s, work)
    before = JobLog(readings=log.counting(0), by_epoch=(log.counting(0),), others=log.others)
    return verdicts(job, before, engine) if engine else None


def would_read(engine: Ready, posterior: Posterior, reading: Reading, elements: Sequence[str]) -> list[tuple[str, float]]:
    """What each of some suspects would show for a reading."""
    with engine.lock:
        return predicted_by(engine.ensemble, posterior, reading, elements)
