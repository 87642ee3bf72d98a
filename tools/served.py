"""The app as it is started by hand, and a browser on it: for tests, benches and pictures."""

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
from typing import TypeVar

from selenium import webdriver
from selenium.common.exceptions import WebDriverException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.remote.webdriver import WebDriver
from selenium.webdriver.support.ui import WebDriverWait

from iron_probe.store.cluster import ENDING_SECONDS

ROOT = Path(__file__).parent.parent
PATIENCE_S, LOOK_S = 150, 0.05
"""How long a page is waited for on a busy machine, and how often it is looked at [s]."""
D = TypeVar("D", bound=WebDriver)
RUN = "IRON_PROBE_TEST_RUN"
"""Where one run of the tests, all its processes together, keeps what takes seconds to work out."""


def until(so: Callable[[], object], what: str = "it did not come to be") -> None:
    """Wait for something to be so, on a busy machine too."""
    end = time.monotonic() + PATIENCE_S
    while not so():
        assert time.monotonic() < end, what
        time.sleep(0.02)


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
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder, served_in(Path(folder), **environment) as app:
        yield app


@contextlib.contextmanager
def served_in(folder: Path, **environment: str) -> Iterator[Served]:
    """The same in a folder of one's own."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    folder.chmod(0o755)
    app = Served(folder, port, **environment)
    app.start()
    try:
        yield app
    finally:
        app.stop()


def waiting(driver: D, *hidden: type[Exception]) -> WebDriverWait[D]:
    """Patience for what a page comes to by itself, looked at often enough that nothing is waited for long after it came; an element that went
    meanwhile, and what else is `hidden`, is no answer yet."""
    return WebDriverWait(driver, PATIENCE_S, LOOK_S, ignored_exceptions=[WebDriverException, *hidden])


class Patient(webdriver.Chrome):
    """A browser whose visitor sits through a page that says to wait, as it asks for itself again."""

    def get(self, url: str) -> None:
        """Open a page, and have it."""
        super().get(url)
        told = "return (performance.getEntriesByType('navigation')[0] || {}).responseStatus"
        waiting(self).until(lambda d: d.execute_script(told) != 503)


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
