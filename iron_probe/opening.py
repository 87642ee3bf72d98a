"""Opening the house for the day: the database, its schema, the demo on first use, then app processes and a worker."""

import contextlib
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path

from sqlmodel import Session

from iron_probe.house import Child, House
from iron_probe.settings import Settings
from iron_probe.store import captures, queries
from iron_probe.store.cluster import Cluster
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate
from iron_probe.work.uploads import adopt
from iron_probe.work.yard_queue import Queue

START_S = 60.0


def open_house(settings: Settings, say: Callable[[str], None]) -> None:
    """Run everything until a signal to end. ClusterError, SQLAlchemyError or OSError when it cannot be started."""
    settings.data.mkdir(parents=True, exist_ok=True)
    own = None if settings.database_url else Cluster(settings.data / "postgres")
    try:
        if own is not None:
            own.start()
        url = settings.database_url or (own.url if own else "")
        make_ready(url, settings.data)
        environment = {"IRON_PROBE_DATABASE_URL": url, "IRON_PROBE_SHARED": str(settings.data.resolve()), "OMP_NUM_THREADS": "1"}
        apps = [Child(f"app process {k + 1}", ["app", str(settings.port)], environment) for k in range(settings.processes)]
        house = House(apps, own.bring_back if own else lambda: False, say)
        house.start()
        try:
            house.wait_until(lambda: _answers(settings.port), START_S)
            house.add(Child("worker", ["worker"], environment, "TERM"))  # once the app answers, which it would only make wait
            say(f"Iron Probe is at http://127.0.0.1:{settings.port}  (Ctrl-C stops it)")
            house.run()
        finally:
            house.stop()
    finally:
        if own is not None:
            own.stop()


def make_ready(url: str, data: Path) -> None:
    """Bring the schema up to date, fill an empty yard with the demo, and put what an earlier run left open on the list."""
    engine = connect(url)
    queue = Queue(url, data / "ensembles")
    try:
        migrate(engine)
        with Session(engine) as session:
            if queries.count_jobs(session) == 0:
                from iron_probe.demo.yard import fill_yard  # noqa: PLC0415  only the first start needs it

                fill_yard(session)
            adopt(session, data / "uploads")
            if queries.unsummarised(session, 1):
                queue.refresh_summaries()
            for capture in captures.being_read(session):
                queue.read_capture(capture)
    finally:
        queue.close()
        engine.dispose()


def _answers(port: int) -> bool:
    with contextlib.suppress(urllib.error.URLError, ConnectionError, TimeoutError):
        urllib.request.urlopen(f"http://127.0.0.1:{port}/static/icon.svg", timeout=2).close()
        return True
    return False
