"""Shared fixtures: a throw-away database, the app on it, and a browser."""

import contextlib
import os
import shutil
import tempfile
from collections.abc import Callable, Iterator
from itertools import count
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from selenium import webdriver
from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.core.circuit.network import Network, build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.job.job import Job
from iron_probe.core.kept import Kept
from iron_probe.demo.yard import fill_yard
from iron_probe.machines import load_sheet
from iron_probe.store.cluster import cluster
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate
from iron_probe.web.app import create_app
from iron_probe.work import ensembles
from iron_probe.work.jobs import find_job
from iron_probe.work.yard_queue import work
from tools.served import RUN, Served, launch_browser, served_app

_COPIES = count()
ROOM_BYTES = 12_000_000_000
"""What a disk must have left before ensembles are kept on it for the other tests."""


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
        if kept.name in ("logs", "verdicts", "drop work", "guides"):
            kept.clear()
    yield own
    own.dispose()
    as_admin(database_url, f"drop database {name} with (force)")


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
