"""Shared fixtures: a throw-away database, the app on it, and a browser."""

import contextlib
import os
import socket
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.core.circuit.network import Network, build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.demo.yard import fill_yard
from iron_probe.machines import load_sheet
from iron_probe.store.cluster import cluster
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate
from iron_probe.web.app import create_app

ROOT = Path(__file__).parent.parent


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


@pytest.fixture
def yard(engine: Engine) -> Iterator[Engine]:
    """The demo yard, filled anew."""
    with Session(engine) as session:
        session.execute(text("truncate job, log_entry restart identity cascade"))
        session.commit()
        fill_yard(session)
    yield engine


class Visitor(TestClient):
    """A client that sends each form as a browser would: with the token of its cookie."""

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

    def __init__(self, data: Path, port: int) -> None:
        self.data, self.url = data, f"http://127.0.0.1:{port}"
        self._env = {**os.environ, "IRON_PROBE_PORT": str(port), "IRON_PROBE_DATA": str(data)}
        self._env.pop("IRON_PROBE_DATABASE_URL", None)
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        self.process = subprocess.Popen([sys.executable, "-m", "iron_probe.cli", "serve"], cwd=ROOT, env=self._env)
        end = time.monotonic() + 60
        while time.monotonic() < end:
            try:
                urllib.request.urlopen(self.url + "/", timeout=2).close()
                return
            except (urllib.error.URLError, ConnectionError, TimeoutError):
                if self.process.poll() is not None:
                    break
                time.sleep(0.1)
        raise RuntimeError("the app did not start")

    def kill(self) -> None:
        """End it as a dead battery would."""
        assert self.process
        self.process.kill()
        self.process.wait(10)

    def stop(self) -> None:
        assert self.process
        self.process.terminate()
        self.process.wait(20)


@contextlib.contextmanager
def served_app() -> Iterator[Served]:
    """The app on fresh demo data and a free port."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder:
        Path(folder).chmod(0o755)
        app = Served(Path(folder), port)
        app.start()
        try:
            yield app
        finally:
            app.stop()


@pytest.fixture(scope="session")
def served() -> Iterator[Served]:
    with served_app() as app:
        yield app


@pytest.fixture(scope="session")
def open_browser() -> Iterator[Callable[[int, int], webdriver.Chrome]]:
    """Opens headless Chromium at a given size."""
    opened: list[webdriver.Chrome] = []

    def launch(width: int, height: int) -> webdriver.Chrome:
        driver = launch_browser(width, height)
        opened.append(driver)
        return driver

    yield launch
    for driver in opened:
        driver.quit()


def launch_browser(width: int, height: int) -> webdriver.Chrome:
    """Headless Chromium from Debian with a view of exactly this size."""
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    flags = "headless no-sandbox disable-gpu disable-quic no-first-run disable-background-networking disable-component-update disable-sync hide-scrollbars force-device-scale-factor=1"
    for flag in flags.split():
        options.add_argument(f"--{flag}")
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    size = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
    return driver
