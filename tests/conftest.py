"""Shared fixtures: a throw-away database, the app on it, and a browser."""

import contextlib
import os
import shutil
import socket
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from itertools import count
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from selenium import webdriver
from selenium.common.exceptions import WebDriverException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.support.ui import WebDriverWait
from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.core.circuit.network import Network, build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.job.job import Job
from iron_probe.core.kept import Kept
from iron_probe.demo.yard import fill_yard
from iron_probe.machines import load_sheet
from iron_probe.store.cluster import ENDING_SECONDS, cluster
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate
from iron_probe.web.app import create_app
from iron_probe.work import ensembles
from iron_probe.work.jobs import find_job
from iron_probe.work.yard_queue import work

ROOT = Path(__file__).parent.parent
_COPIES = count()
ROOM_BYTES = 12_000_000_000
"""What a disk must have left before ensembles are kept on it for the other tests."""
RUN = "IRON_PROBE_TEST_RUN"
"""Where one run of the tests, all its processes together, keeps what takes seconds to work out."""


def pytest_configure(config: pytest.Config) -> None:
    """The folder of the run is made by the process that starts the others."""
    if not hasattr(config, "workerinput"):
        os.environ[RUN] = tempfile.mkdtemp(prefix="iron-probe-run-")


def pytest_unconfigure(config: pytest.Config) -> None:
    if not hasattr(config, "workerinput"):
        shutil.rmtree(os.environ[RUN], ignore_errors=True)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """The long jobs in the browser first: what is short then fills both cores to the end."""
    items.sort(key=lambda item: ("/tests/browser/" not in str(item.path), "guided" not in item.path.name))


@pytest.fixture(scope="session", autouse=True)
def _for_the_run() -> Iterator[None]:
    """An ensemble is worked out once in a run, and mapped after that, as the app's own worker keeps it."""
    worked_out = ensembles.make

    def make(asked: ensembles.Wanted) -> ensembles.Ready:
        kept = Path(os.environ[RUN]) / "ensembles" / asked.key
        with contextlib.suppress(FileNotFoundError):
            return ensembles.mapped(asked, kept)
        ready = worked_out(asked)
        if shutil.disk_usage(os.environ[RUN]).free > ROOM_BYTES:
            ensembles.write(ready, kept)
        return ready

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(ensembles, "make", make)
        yield


@pytest.fixture(scope="session")
def minibus() -> Sheet:
    return load_sheet("crew-minibus")


@pytest.fixture(scope="session")
def minibus_network(minibus: Sheet) -> Network:
    return build_network(minibus)


@pytest.fixture(scope="session")
def database_url() -> Iterator[str]:
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder:
        Path(folder).chmod(0o755)
        with cluster(Path(folder) / "postgres", throwaway=True) as url:
            yield url


@pytest.fixture(scope="session")
def engine(database_url: str) -> Iterator[Engine]:
    found = connect(database_url)
    migrate(found)
    yield found
    found.dispose()


@pytest.fixture(scope="session")
def filled(database_url: str) -> str:
    """The demo yard filled once, as a database to copy from."""
    return made_database(database_url, "yard_template", fill_yard)


def as_admin(database_url: str, statement: str) -> None:
    """Run a statement that stands outside every transaction."""
    engine = connect(database_url, 60_000)
    with engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        connection.execute(text(statement))
    engine.dispose()


def made_database(database_url: str, name: str, fill: Callable[[Session], None]) -> str:
    """A database of that name beside the first, migrated and filled."""
    as_admin(database_url, f"create database {name}")
    own = connect(database_url.rsplit("/", 1)[0] + f"/{name}")
    migrate(own)
    with Session(own) as session:
        fill(session)
    own.dispose()
    return name


@pytest.fixture
def yard(database_url: str, filled: str) -> Iterator[Engine]:
    """The demo yard, a fresh copy."""
    name = f"yard_{next(_COPIES)}"
    as_admin(database_url, f"create database {name} template {filled} strategy file_copy")
    own = connect(database_url.rsplit("/", 1)[0] + f"/{name}")
    for kept in Kept.every:  # another copy's jobs have the same ids
        if kept.name in ("logs", "verdicts", "drop work"):
            kept.clear()
    yield own
    own.dispose()
    as_admin(database_url, f"drop database {name} with (force)")


def until(so: Callable[[], object], what: str = "it did not come to be") -> None:
    """Wait for something to be so, on a busy machine too."""
    end = time.monotonic() + 120
    while not so():
        assert time.monotonic() < end, what
        time.sleep(0.02)


class Visitor(TestClient):
    """A client that sends each form as a browser would: with the token of its cookie."""

    def work(self) -> None:
        """Let a worker do all there is to do."""
        engine = self.app.state.engine  # type: ignore[attr-defined]
        work(engine.url.render_as_string(hide_password=False), Path("nowhere"), forever=False)

    def job(self, number: int) -> Job:
        """A job as it stands in the database."""
        with Session(self.app.state.engine) as session:  # type: ignore[attr-defined]
            found = find_job(session, number)
        assert found is not None
        return found

    def submit(self, path: str, **fields: str) -> str:
        """Post a form and give back the text of the page it leads to."""
        self.last = self.post(path, data={"form_token": self.cookies["iron_probe_form"], **fields})
        return self.last.text


@pytest.fixture
def visitor(yard: Engine, tmp_path: Path) -> Iterator[Visitor]:
    with Visitor(create_app(yard, tmp_path)) as client:
        client.get("/")
        yield client


class Served:
    """The app as a process of its own, to be stopped, killed and started again on the same data."""

    def __init__(self, data: Path, port: int, **environment: str) -> None:
        self.data, self.url = data, f"http://127.0.0.1:{port}"
        self._env = {"IRON_PROBE_STAND_INS": "0", **os.environ, "IRON_PROBE_PORT": str(port), "IRON_PROBE_DATA": str(data), **environment}
        self._env.pop("IRON_PROBE_DATABASE_URL", None)
        if run := os.environ.get(RUN):  # a bench has none: it measures how long things take
            shared = Path(run) / "ensembles"
            shared.mkdir(mode=0o700, exist_ok=True)
            (data / "ensembles").symlink_to(shared)
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        with (self.data / "said.txt").open("ab") as said:
            self.process = subprocess.Popen([sys.executable, "-m", "iron_probe.cli", "serve"], cwd=ROOT, env=self._env, stdout=said)
        end = time.monotonic() + 180
        while time.monotonic() < end:
            try:
                urllib.request.urlopen(self.url + "/", timeout=2).close()
                return
            except (urllib.error.URLError, ConnectionError, TimeoutError):
                if self.process.poll() is not None:
                    break
                time.sleep(0.1)
        raise RuntimeError("the app did not start")

    @property
    def said(self) -> str:
        """What it said where it was started."""
        return (self.data / "said.txt").read_text()

    def kill(self) -> None:
        """End it as a dead battery would."""
        assert self.process
        self.process.kill()
        self.process.wait(10)

    def stop(self) -> None:
        assert self.process
        self.process.terminate()
        self.process.wait(ENDING_SECONDS + 30)


@contextlib.contextmanager
def served_app(**environment: str) -> Iterator[Served]:
    """The app on fresh demo data and a free port."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder:
        Path(folder).chmod(0o755)
        app = Served(Path(folder), port, **environment)
        app.start()
        try:
            yield app
        finally:
            app.stop()


@pytest.fixture(scope="session")
def served() -> Iterator[Served]:
    with served_app() as app:
        yield app


@pytest.fixture(scope="module")
def open_browser() -> Iterator[Callable[[int, int], webdriver.Chrome]]:
    """Opens headless Chromium at a given size, and ends it with the module."""
    opened: list[webdriver.Chrome] = []

    def launch(width: int, height: int) -> webdriver.Chrome:
        driver = launch_browser(width, height)
        opened.append(driver)
        return driver

    yield launch
    for driver in opened:
        driver.quit()


class Patient(webdriver.Chrome):
    """A browser whose visitor sits through a page that says to wait, as it asks for itself again."""

    def get(self, url: str) -> None:
        """Open a page, and have it."""
        super().get(url)
        told = "return (performance.getEntriesByType('navigation')[0] || {}).responseStatus"
        WebDriverWait(self, 150, ignored_exceptions=[WebDriverException]).until(lambda d: d.execute_script(told) != 503)


def launch_browser(width: int, height: int) -> webdriver.Chrome:
    """Headless Chromium from Debian with a view of exactly this size."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    flags = "headless no-sandbox disable-gpu disable-quic no-first-run disable-background-networking disable-component-update disable-sync hide-scrollbars force-device-scale-factor=1"
    for flag in flags.split():
        options.add_argument(f"--{flag}")
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = Patient(options=options, service=Service("/usr/bin/chromedriver"))
    driver.set_script_timeout(150)
    size = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    return driver
