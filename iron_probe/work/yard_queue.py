"""Background tasks in PostgreSQL's own queue: leased, retried, taken up again after a killed worker, one failing never breaking the next."""

import contextlib
import hashlib
import logging
import threading
from collections.abc import Sequence
from functools import partial
from pathlib import Path
from uuid import UUID

import procrastinate
from procrastinate import App, Blueprint, JobContext, RetryStrategy, exceptions
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.store import captures, queries
from iron_probe.store.database import connect
from iron_probe.store.tables import now
from iron_probe.work import ensembles
from iron_probe.work.import_capture import WRITE_MS, import_capture
from iron_probe.work.instrument import drain_log
from iron_probe.work.jobs import find_job
from iron_probe.work.practice import work_replay
from iron_probe.work.prints import set_print
from iron_probe.work.summary import keep_summary
from iron_probe.work.waits import EVERY_S, tell_due

RETRY = RetryStrategy(max_attempts=3, wait=3)
STALLED_S = 12
"""A worker that has not been heard of for so long [s] is dead: its tasks are taken up again."""
WAITED_FOR = 10
"""Priority of a task somebody looks at the end of: a capture goes before ensembles that were only foreseen."""
NEVER_AGAIN = 6
"""A task whose worker died so often is not taken up again: it may be the task that kills."""


class Tools:
    """What tasks work with in a worker's process: the database, and the folder of kept ensembles."""

    def __init__(self, engine: Engine, folder: Path) -> None:
        self.engine, self.folder = engine, folder


def ensemble_queue(folder: Path) -> str:
    """The queue of ensembles for one folder: they are worked out on the host that maps them."""
    return f"ensembles-{hashlib.sha256(str(folder.resolve()).encode()).hexdigest()[:12]}"


def import_capture_task(context: JobContext, capture: str) -> None:
    """Read an uploaded capture."""
    import_capture(_tools(context).engine, UUID(capture))


def prepare_ensemble(context: JobContext, key: str) -> None:
    """Work an ensemble out, and what the Yard shows of the jobs that awaited it."""
    ensembles.prepare(_tools(context).folder, key)
    with Session(_tools(context).engine) as session:
        _summarise(session, queries.awaiting_engine(session))


def set_report(context: JobContext, print_id: str) -> None:
    """Set a report as PDF."""
    with Session(_tools(context).engine) as session:
        set_print(session, UUID(print_id))


def replay_practice(context: JobContext, job_id: str) -> None:
    """Work the replay of a practice case out."""
    tools = _tools(context)
    with Session(tools.engine) as session:
        work_replay(session, UUID(job_id), partial(ensembles.mapped_or_made, tools.folder))


def tell_of_waits(context: JobContext, timestamp: int) -> None:
    """Tell of waits that came due."""
    with Session(_tools(context).engine) as session:
        tell_due(session, now())


def refresh_summaries(context: JobContext) -> None:
    """Work out what the Yard shows of jobs that have no summary yet."""
    with Session(_tools(context).engine) as session:
        while numbers := queries.unsummarised(session):
            _summarise(session, numbers)


def _summarise(session: Session, numbers: Sequence[int]) -> None:
    """Work the summaries of some jobs out anew."""
    for number in numbers:
        job = find_job(session, number)
        if job is not None:
            keep_summary(session, job, drain_log(session, job))
            session.commit()


async def take_up_stalled(context: JobContext, timestamp: int) -> None:
    """Put tasks of dead workers back on the list."""
    manager = context.app.job_manager
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=STALLED_S):
        if job.attempts >= NEVER_AGAIN:
            await manager.finish_job(job, status=procrastinate.jobs.Status.FAILED, delete_job=False)
            continue
        try:
            await manager.retry_job(job)
        except exceptions.UniqueViolation:  # the same was put on the list anew, and waits for this one to end
            await manager.finish_job(job, status=procrastinate.jobs.Status.FAILED, delete_job=True)
    for capture in _left_unread(_tools(context).engine):  # marked as being read, and put on no list: the app ended between the two
        with contextlib.suppress(exceptions.AlreadyEnqueued):
            await context.app.configure_task("yard:import_capture", queueing_lock=capture, lock=capture).defer_async(
                capture=capture.removeprefix("capture ")
            )


def _left_unread(engine: Engine) -> list[str]:
    with Session(engine) as session:
        return [f"capture {found}" for found in captures.being_read(session)]


def _tools(context: JobContext) -> Tools:
    tools: Tools = (context.additional_context or {})["tools"]
    return tools


def plain(url: str) -> str:
    """The URL as the driver itself wants it."""
    return url.replace("postgresql+psycopg://", "postgresql://")


def tasks() -> Blueprint:
    """The tasks, for an app of their own."""
    made = Blueprint()
    made.task(name="import_capture", queue="captures", priority=WAITED_FOR, retry=RETRY, pass_context=True)(import_capture_task)
    made.task(name="prepare_ensemble", queue="ensembles", retry=RETRY, pass_context=True)(prepare_ensemble)
    made.task(name="refresh_summaries", queue="captures", retry=RETRY, pass_context=True)(refresh_summaries)
    made.task(name="set_report", queue="captures", priority=WAITED_FOR, retry=RETRY, pass_context=True)(set_report)
    made.task(name="replay_practice", queue="captures", retry=RETRY, pass_context=True)(replay_practice)
    due = made.task(name="tell_of_waits", queue="captures", priority=WAITED_FOR, pass_context=True, queueing_lock="tell_of_waits")(
        tell_of_waits
    )
    made.periodic(cron=f"* * * * * */{EVERY_S}")(due)
    again = made.task(name="take_up_stalled", queue="captures", pass_context=True, queueing_lock="take_up_stalled")(take_up_stalled)
    made.periodic(cron="* * * * * */10")(again)
    return made


class Queue:
    """Tasks put on the list by an app process."""

    def __init__(self, url: str, folder: Path) -> None:
        self._app = App(connector=procrastinate.SyncPsycopgConnector(conninfo=plain(url), min_size=0, max_size=2, timeout=5))
        self._app.add_tasks_from(tasks(), namespace="yard")
        self._folder, self._open, self._guard = folder, False, threading.Lock()

    def _defer(self, name: str, queue: str | None, lock: str | None, **arguments: str) -> None:
        with self._guard:
            if not self._open:
                self._app.open()
                self._open = True
        try:
            self._app.configure_task(f"yard:{name}", queue=queue, queueing_lock=lock, lock=lock).defer(**arguments)
        except exceptions.AlreadyEnqueued:
            pass
        except exceptions.ConnectorException:
            logging.getLogger(__name__).warning("the task %s could not be put on the list; it is asked for again", name)
            raise

    def read_capture(self, capture: UUID) -> None:
        """Have a capture read."""
        self._defer("import_capture", None, f"capture {capture}", capture=str(capture))

    def prepare_ensemble(self, key: str) -> None:
        """Have an ensemble worked out."""
        self._defer("prepare_ensemble", ensemble_queue(self._folder), f"ensemble {key}", key=key)

    def set_print(self, print_id: UUID) -> None:
        """Have a report set as PDF."""
        self._defer("set_report", None, f"print {print_id}", print_id=str(print_id))

    def replay_practice(self, job_id: UUID) -> None:
        """Have the replay of a practice case worked out."""
        self._defer("replay_practice", None, f"replay {job_id}", job_id=str(job_id))

    def refresh_summaries(self) -> None:
        """Have missing summaries worked out."""
        self._defer("refresh_summaries", None, "summaries")

    def close(self) -> None:
        """Let the connections go."""
        if self._open:
            self._app.close()


class OneLine(logging.Formatter):
    """A line for a database that is away, which the tasks outlast; what was not foreseen keeps its traceback."""

    def format(self, record: logging.LogRecord) -> str:
        """The record as text."""
        if record.exc_info and isinstance(record.exc_info[1], exceptions.ConnectorException):
            return f"worker: the database does not answer; it is asked again ({record.name})"
        return super().format(record)


def log_in_lines() -> None:
    """Have what tasks log told in lines, on standard error."""
    handler = logging.StreamHandler()
    handler.setFormatter(OneLine())
    logging.basicConfig(level=logging.WARNING, handlers=[handler])


def work(url: str, folder: Path, *, forever: bool = True) -> None:
    """Take tasks from the list, one of each kind at a time, until stopped; without `forever` until none is left."""
    app = App(connector=procrastinate.PsycopgConnector(conninfo=plain(url), min_size=1, max_size=6))
    app.add_tasks_from(tasks(), namespace="yard")
    engine = connect(url, WRITE_MS)
    engine.connect().close()  # a database that is not there is told at once
    asking = Queue(url, folder)
    try:
        with ensembles.found_in(folder, asking.prepare_ensemble):
            app.run_worker(
                queues=["captures", ensemble_queue(folder)], concurrency=2, wait=forever, install_signal_handlers=forever, delete_jobs="successful",
                additional_context={"tools": Tools(engine, folder)}, shutdown_graceful_timeout=5,
                update_heartbeat_interval=3, stalled_worker_timeout=STALLED_S, fetch_job_polling_interval=3,
            )  # fmt: skip
    finally:
        asking.close()
        engine.dispose()
