"""Opening the house for the day: the database, its schema, the demo on first use, then app processes and a worker."""

import contextlib
import hashlib
import io
import shutil
import socket
from collections.abc import Callable, Iterator
from pathlib import Path

import segno
from sqlmodel import Session

from iron_probe.house import Child, House
from iron_probe.settings import Settings
from iron_probe.store import captures, practice, queries
from iron_probe.store.cluster import Cluster
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate
from iron_probe.work.people import owner_key
from iron_probe.work.uploads import adopt
from iron_probe.work.yard_queue import Queue

START_S = 60.0
MEMORY = Path("/dev/shm")
"""Where processes count together what they answer: files that are mapped, whose writer a full disk would kill."""


def open_house(settings: Settings, say: Callable[[str], None]) -> None:
    """Run everything until a signal to end. ClusterError, SQLAlchemyError or OSError when it cannot be started."""
    settings.data.mkdir(parents=True, exist_ok=True)
    own = None if settings.database_url else Cluster(settings.data / "postgres")
    counts = place_for_counts(settings.data)
    try:
        if own is not None:
            own.start()
        url = settings.database_url or (own.url if own else "")
        key = make_ready(url, settings.data, accounts=settings.accounts)
        environment = {
            "PROMETHEUS_MULTIPROC_DIR": str(counts),
            "IRON_PROBE_DATABASE_URL": url, "IRON_PROBE_HISTORY_URL": settings.history_url, "IRON_PROBE_SHARED": str(settings.data.resolve()), "OMP_NUM_THREADS": "1",
            "IRON_PROBE_ACCOUNTS": str(int(settings.accounts)), "IRON_PROBE_SECURE": str(int(settings.over_tls)),
            "IRON_PROBE_HOSTS": ",".join(filter(None, (settings.hosts, address_here() if settings.lan else ""))),
        }  # fmt: skip
        apps = [Child(f"app process {k + 1}", ["app", str(settings.port)], environment) for k in range(settings.processes)]
        house = House(apps, own.bring_back if own else lambda: False, say)
        house.start()
        try:
            house.wait_until(lambda: _answers(settings), START_S)
            house.add(Child("worker", ["worker"], environment, "TERM"))  # once the app answers, which it would only make wait
            if settings.stand_ins:
                house.add(Child("stand-in meters", ["stand-ins", here_of(settings)], environment, "TERM"))
            say("\n".join(_where(settings, key)))
            house.run()
        finally:
            house.stop()
    finally:
        if own is not None:
            own.stop()
        shutil.rmtree(counts, ignore_errors=True)


def place_for_counts(data: Path) -> Path:
    """Where the processes count together what they answer; emptied, as it may be left of a run that was killed. Beside the data where memory has no
    folders, or one of that name is somebody else's."""
    name = f"iron-probe-counts-{hashlib.sha256(str(data.resolve()).encode()).hexdigest()[:16]}"
    for folder in (MEMORY / name, data / name):
        shutil.rmtree(folder, ignore_errors=True)
        with contextlib.suppress(OSError):
            folder.mkdir(mode=0o700)
            return folder
    raise OSError(f"No folder for counting requests can be made in {MEMORY} or {data}: give {data} rights to write and some room.")


def _where(settings: Settings, key: str) -> Iterator[str]:
    """What is said where the app was started: its address, and the link by which the yard's first lead joins."""
    here = here_of(settings)
    yield f"Iron Probe is at {here}  (Ctrl-C stops it)"
    if settings.lan:
        outside = here.replace("127.0.0.1", address_here())
        drawn = io.StringIO()
        segno.make(outside, micro=False).terminal(drawn, compact=True)
        yield f"On the network it is at {outside}\n{drawn.getvalue()}"
    if key:
        yield f"Nobody leads this yard yet. Whoever opens this link first does, within two days:\n{here}/join/{key}"


def here_of(settings: Settings) -> str:
    """The app's address on this machine."""
    return f"{'https' if settings.tls_cert else 'http'}://127.0.0.1:{settings.port}"


def address_here() -> str:
    """This machine's address as others on its network see it; loopback's where it has none."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe, contextlib.suppress(OSError):
        probe.connect(("192.0.2.1", 9))  # nothing is sent: the system only says which of its addresses it would send from
        return str(probe.getsockname()[0])
    return "127.0.0.1"


def make_ready(url: str, data: Path, *, accounts: bool = False) -> str:
    """Bring the schema up to date, fill an empty yard with the demo unless it has accounts, and put what an earlier run left open on the
    list. The key of the link by which the yard's first lead joins; empty where it has one, or no accounts."""
    engine = connect(url)
    queue = Queue(url, data / "ensembles")
    try:
        migrate(engine)
        with Session(engine) as session:
            if not accounts and queries.count_jobs(session) == 0:
                from iron_probe.demo.yard import fill_yard  # noqa: PLC0415  only the first start needs it

                fill_yard(session)
            adopt(session, data / "uploads")
            if queries.unsummarised(session, 1):
                queue.refresh_summaries()
            for capture in captures.being_read(session):
                queue.read_capture(capture)
            for job_id in practice.unmarked(session):
                queue.replay_practice(job_id)
            return owner_key(session) if accounts else ""
    finally:
        queue.close()
        engine.dispose()


def _answers(settings: Settings) -> bool:
    with contextlib.suppress(OSError), socket.create_connection(("127.0.0.1", settings.port), timeout=2):
        return True
    return False
