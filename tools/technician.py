"""Somebody who logs readings over the network, one after the other, whatever happens to the app meanwhile."""

import contextlib
import http.client
import re
import threading
import time
import urllib.parse
import urllib.request
from pathlib import Path
from uuid import uuid4

from sqlalchemy import text

from iron_probe.store.cluster import running_url
from iron_probe.store.database import connect
from tools.served import until

ENOUGH = 6
"""So many more readings show that work goes on."""
TOKEN = re.compile(r'name="form_token" value="([^"]+)"')
WAIT = 503
"""The door's word where a machine is too busy to answer in its time: sent again, it may have been taken the first time."""


class Technician(threading.Thread):
    """Logs readings on a job one after the other; what was not answered, or told to wait, is sent again under its id, as the page does."""

    def __init__(self, url: str, job: int) -> None:
        super().__init__(daemon=True)
        self.address, self.job = url.removeprefix("http://"), job
        self.accepted: list[str] = []
        self.at: dict[str, float] = {}
        self.refused: list[int] = []
        self.waited = 0
        self.ended = threading.Event()

    def run(self) -> None:
        with urllib.request.urlopen(f"http://{self.address}/jobs/{self.job}", timeout=60) as page:
            cookie = page.headers["set-cookie"].split(";")[0]
            token = TOKEN.search(page.read().decode())
        assert token
        entry = str(uuid4())
        while not self.ended.is_set():
            try:
                status = self._post(cookie, token.group(1), entry)
            except (OSError, http.client.HTTPException):  # the process it spoke to was killed
                time.sleep(0.05)
                continue
            if status == WAIT:
                self.waited += 1
                continue
            if status == 200:
                self.accepted.append(entry)
                self.at[entry] = time.monotonic()
            else:
                self.refused.append(status)
            entry = str(uuid4())

    def _post(self, cookie: str, token: str, entry: str) -> int:
        form = {"form_token": token, "entry_id": entry, "instrument": "voltmeter", "state": "crank", "value": "0.3"}
        form |= {"red": "bat.plus", "black": "bat.minus"}
        headers = {"Cookie": cookie, "HX-Request": "true", "Content-Type": "application/x-www-form-urlencoded"}
        with contextlib.closing(http.client.HTTPConnection(self.address, timeout=30)) as spoken:
            spoken.request("POST", f"/jobs/{self.job}/readings", urllib.parse.urlencode(form), headers)
            answer = spoken.getresponse()
            answer.read()
            return answer.status


def go_on(technicians: list[Technician]) -> None:
    """Wait until each has logged some more."""
    before = [len(t.accepted) for t in technicians]
    until(lambda: all(len(t.accepted) >= n + ENOUGH for t, n in zip(technicians, before, strict=True)), "readings come in again")


def lines_kept(data: Path, ids: list[str]) -> int:
    """How many of some lines the house's own database has kept."""
    engine = connect(running_url(data / "postgres") or "")
    try:
        with engine.connect() as base:
            return int(base.execute(text("select count(*) from log_entry where id = any(cast(:ids as uuid[]))"), {"ids": ids}).scalar_one())
    finally:
        engine.dispose()
