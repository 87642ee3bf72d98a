"""Ensembles made ready beside the requests and kept: a page asks, and shows the engine's word once it is there."""

import threading
from collections import OrderedDict
from collections.abc import Sequence
from concurrent.futures import Future, ThreadPoolExecutor, wait
from dataclasses import dataclass

from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.diagnose.apart import Access, access_that_tells, tied
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.fault_modes import TAG_FACTOR
from iron_probe.core.diagnose.next_test import NextTest, Order, next_tests, predicted_by
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.core.diagnose.scope import Scope, states_of
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.errors import ReadingError
from iron_probe.core.solve.solution import Symptom
from iron_probe.machines import load_sheet
from iron_probe.store.job_log import JobLog
from iron_probe.store.tables import Job
from iron_probe.web.leaning import leanings

KEPT = 5
"""Ensembles held at once; the least used goes first."""
STEP_DEGC = 5.0
"""Jobs within this step of temperature share an ensemble: it moves figures by less than parts spread."""

Key = tuple[str, float, Scope]


@dataclass(frozen=True, slots=True)
class Ready:
    """An ensemble with every state solved, its tests, and a lock: its caches are worked on by one request at a time."""

    ensemble: Ensemble
    book: TestBook
    lock: threading.Lock


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdicts:
    """The engine's word on a job: posterior with readings numbered as in the log (0 is the intake's symptom), and the next tests;
    the suspects `tied` when no test is left, and the `access` that would tell them apart."""

    posterior: Posterior
    tests: tuple[NextTest, ...]
    numbers: tuple[int, ...]
    order: Order
    refused: str = ""
    tied: tuple[str, ...] = ()
    access: Access | None = None


_pool = ThreadPoolExecutor(1, thread_name_prefix="ensemble")
_kept: OrderedDict[Key, Future[Ready]] = OrderedDict()
_guard = threading.Lock()


def _prepare(sheet_id: str, temp_degc: float, work: Scope) -> Ready:
    ensemble = Ensemble(load_sheet(sheet_id), Conditions(temp_degc=temp_degc), work)
    return Ready(ensemble, TestBook(ensemble), threading.Lock())


def ready(job: Job, wait_s: float = 0.0, work: Scope = Scope.STARTING) -> Ready | None:
    """The job's ensemble for a kind of work, or None while it is being made ready in the background; waits up to `wait_s` [s]."""
    future = _asked(job.sheet_id, job.temp_degc, work)
    if wait_s:
        wait([future], timeout=wait_s)
    return future.result() if future.done() else None


def prepared(sheet_id: str, temp_degc: float) -> Ready:
    """The ensemble of a sheet, waited for."""
    return _asked(sheet_id, temp_degc, Scope.STARTING).result()


def _asked(sheet_id: str, temp_degc: float, work: Scope) -> Future[Ready]:
    key = (sheet_id, round(temp_degc / STEP_DEGC) * STEP_DEGC, work)
    with _guard:
        if key not in _kept:
            _kept[key] = _pool.submit(_prepare, *key)
            while len(_kept) > KEPT:
                _kept.popitem(last=False)
        _kept.move_to_end(key)
        return _kept[key]


def evidence_of(job: Job, log: JobLog, work: Scope = Scope.STARTING) -> tuple[list[Reading], tuple[int, ...]]:
    """The readings that count in the present epoch and in the states of this work, with their numbers; what intake heard counts as
    number 0 until it was tried again."""
    inside = states_of(load_sheet(job.sheet_id), work)
    counting = [r for r in log.counting(log.epoch) if r.reading.state in inside]
    readings, numbers = [r.reading for r in counting], [r.number for r in counting]
    state = load_sheet(job.sheet_id).cranking_state()
    tried = any(r.instrument is Instrument.EYES and r.state == state for r in readings)
    if work is Scope.STARTING and job.symptom in set(Symptom) and state and not tried and log.epoch == 0:
        readings.append(Reading(instrument=Instrument.EYES, state=state, word=job.symptom))
        numbers.append(0)
    return readings, tuple(numbers)


def case_of(job: Job, log: JobLog, engine: Ready) -> Case:
    """The job's case: elements it does not have left out, those marked, coded or failing a module check raised."""
    raised = leanings(log, engine.ensemble.sheet)
    for element, tag in job.marks.items():
        if tag in TAG_FACTOR:
            raised[element] = raised.get(element, 1.0) * TAG_FACTOR[tag]
    return Case(engine.ensemble, absent=job.absent, raised=raised)


def verdicts(job: Job, log: JobLog, engine: Ready) -> Verdicts:
    """Hold the job's readings against its ensemble."""
    readings, numbers = evidence_of(job, log, engine.ensemble.work)
    order = Order(job.method) if job.method in {o.value for o in Order} else Order.BEST
    with engine.lock:
        case = case_of(job, log, engine)
        try:
            posterior = case.posterior(readings)
        except ReadingError as error:
            posterior = case.posterior([])
            return Verdicts(posterior=posterior, tests=(), numbers=(), order=order, refused=str(error))
        tests = () if posterior.found else tuple(next_tests(case, engine.book, posterior, readings, order, most=4))
        left = () if tests else tuple(tied(posterior))
        access = access_that_tells(case, posterior, readings) if left else None
    return Verdicts(posterior=posterior, tests=tests, numbers=numbers, order=order, tied=left, access=access)


def would_read(engine: Ready, posterior: Posterior, reading: Reading, elements: Sequence[str]) -> list[tuple[str, float]]:
    """What each of some suspects would show for a reading."""
    with engine.lock:
        return predicted_by(engine.ensemble, posterior, reading, elements)
