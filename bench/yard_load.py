"""A busy day with accounts on: 50 technicians log, 25 screens look on, and what each waits."""

import asyncio
import json
import os
import re
import time
from collections.abc import Sequence
from dataclasses import dataclass, field
from pathlib import Path
from uuid import uuid4

import httpx2 as httpx
import numpy as np
import psycopg
from sqlmodel import Session

from bench.timing import percentiles_ms
from iron_probe.core.bench.drop_board import good_machine
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.people.rights import Role
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.store.database import connect
from iron_probe.work import people
from tools.served import served_app

TECHNICIANS, SCREENS, SHEETS = 50, 25, 5
SECONDS = float(os.environ.get("IRON_PROBE_LOAD_S", "300"))
PACES_S = (10.0, 2.0)
"""How often a technician logs: as one does who moves the leads each time, and as fast as a hand can type, which nobody does for long."""
TWICE = 5
"""Every so manieth reading is sent twice at the same moment, as a shaky link does."""
PASSWORD = "quay lamps at dusk"
TOKEN = re.compile(r'name="form_token" value="([^"]+)"')
ENTRY = re.compile(r'name="entry_id" value="([^"]+)"')
POINTS = re.compile(r'<option [^>]*data-id="([^"]+)"')


@dataclass
class Heard:
    """What came of it: seconds by what was asked, entries accepted with when they were sent, refusals, delays of lines on other screens."""

    posts: list[float] = field(default_factory=list)
    pages: list[float] = field(default_factory=list)
    words: list[float] = field(default_factory=list)
    delays: list[float] = field(default_factory=list)
    sent: dict[str, float] = field(default_factory=dict)
    accepted: set[str] = field(default_factory=set)
    refused: list[str] = field(default_factory=list)
    watched: dict[int, set[str]] = field(default_factory=dict)


def database_of(data: Path) -> str:
    """Where the database of a served app answers."""
    base = data / "postgres"
    port = (base / "data/postmaster.pid").read_text().split("\n")[3]
    return f"postgresql+psycopg://app:{(base / 'password').read_text()}@127.0.0.1:{port}/postgres"


def hire(url: str) -> list[str]:
    """Technicians with a password each; their names."""
    engine = connect(url)
    names = [f"Technician {k}" for k in range(TECHNICIANS)]
    with Session(engine) as session:
        for name in names:
            _, key = people.add_person(session, name, Role.TECHNICIAN, "bench")
            people.join(session, key, "", PASSWORD)
    engine.dispose()
    return names


class Technician:
    """Signs in, takes a machine in, and logs on it to the end."""

    def __init__(self, url: str, name: str, number: int, heard: Heard) -> None:
        self.client = httpx.AsyncClient(base_url=url, timeout=60)
        self.name, self.number, self.heard, self.job = name, number, heard, 0
        self.rng = np.random.default_rng(number)

    async def begin(self) -> None:
        page = (await self.client.get("/sign-in")).text
        answer = await self.client.post("/sign-in", data={"form_token": _found(TOKEN, page), "name": self.name, "password": PASSWORD})
        assert answer.status_code == 303, answer.text[-300:]
        page = (await self.client.get("/jobs/new")).text
        form = {
            "form_token": _found(TOKEN, page), "entry_id": str(uuid4()), "sheet_id": sheet_ids()[self.number % SHEETS], "school": "common",
            "machine": f"Load {self.number}", "temp_degc": "20", "cold_degc": "-10", "symptom": "", "complaint": "none",
        }  # fmt: skip
        answer = await self.client.post("/jobs", data=form)
        assert answer.status_code == 303, answer.text[-300:]
        self.job = int(answer.headers["location"].split("/")[2])
        self.heard.watched[self.job] = set()

    async def log_until(self, end: float, every_s: float) -> None:
        await asyncio.sleep(every_s * self.number / TECHNICIANS)
        turn = 0
        while time.monotonic() < end:
            began, turn = time.monotonic(), turn + 1
            try:
                await self._log(turn)
            except httpx.HTTPError as error:
                self.heard.refused.append(type(error).__name__)
            await asyncio.sleep(max(0.0, every_s - (time.monotonic() - began)))

    async def _log(self, turn: int) -> None:
        heard, asked = self.heard, time.monotonic()
        page = await self.client.get(f"/jobs/{self.job}")
        heard.pages.append(time.monotonic() - asked)
        if page.status_code != 200:
            heard.refused.append(f"page {page.status_code}")
            return
        points = POINTS.findall(page.text)
        red, black = points[turn % len(points)], points[(turn + 1) % len(points)]
        entry = _found(ENTRY, page.text)
        form = {
            "form_token": _found(TOKEN, page.text), "entry_id": entry, "instrument": "voltmeter", "state": "crank", "corrects": "",
            "red": red, "black": black, "value": self.shown(red, black),
        }  # fmt: skip
        heard.sent[entry] = time.monotonic()
        if not any(await asyncio.gather(*(self._post(form) for _ in range(1 + (turn % TWICE == 0))))):
            return
        heard.accepted.add(entry)
        asked = time.monotonic()
        await self.client.get(f"/jobs/{self.job}/suspects", headers={"HX-Request": "true"})
        heard.words.append(time.monotonic() - asked)

    def shown(self, red: str, black: str) -> str:
        """What a meter shows on a sound machine of that sheet, cranking."""
        sheet = load_sheet(sheet_ids()[self.number % SHEETS])
        good = good_machine(sheet, "crank", Conditions()).expected(red, black)[0]
        volts = good * (1 + 0.004 * float(self.rng.standard_normal()))
        return f"{volts:.3f}" if abs(volts) < 2 else f"{volts:.2f}"

    async def _post(self, form: dict[str, str]) -> bool:
        began = time.monotonic()
        answer = await self.client.post(f"/jobs/{self.job}/readings", data=form, headers={"HX-Request": "true"})
        self.heard.posts.append(time.monotonic() - began)
        if answer.status_code != 200:
            self.heard.refused.append(f"reading {answer.status_code}")
        return answer.status_code == 200

    async def look_on(self, job: int, watched: dict[int, set[str]]) -> None:
        """Another screen of a job, as its page listens."""
        async with self.client.stream("GET", f"/live?job={job}", timeout=None) as stream:
            async for line in stream.aiter_lines():
                if line.startswith("data: {") and (entry := json.loads(line[6:]).get("entry")):
                    if entry in self.heard.sent:
                        self.heard.delays.append(time.monotonic() - self.heard.sent[entry])
                    watched[job].add(entry)


def _found(what: re.Pattern[str], page: str) -> str:
    match = what.search(page)
    assert match is not None, page[-300:]
    return match.group(1)


async def busy(url: str, names: list[str], paces: Sequence[tuple[float, float, Heard]]) -> list[int]:
    """Everybody at work, pace after pace (every so many seconds, for how long [s]); the jobs that were looked on."""
    heard = paces[0][2]
    all_ = [Technician(url, name, k, heard) for k, name in enumerate(names)]
    for one in all_:
        await one.begin()
    looked = [one.job for one in all_[:SCREENS]]
    screens = [asyncio.create_task(all_[-1 - k].look_on(job, heard.watched)) for k, job in enumerate(looked)]
    for every_s, seconds, told in paces:
        for one in all_:
            one.heard = told
        await asyncio.gather(*(one.log_until(time.monotonic() + seconds, every_s) for one in all_))
        await asyncio.sleep(3.0)
    for screen in screens:
        screen.cancel()
    await asyncio.gather(*screens, return_exceptions=True)
    for one in all_:
        await one.client.aclose()
    return looked


def table() -> str:
    """Serve a yard with accounts, let everybody work at each pace, and count."""
    paces = [(every_s, SECONDS if k == 0 else SECONDS / 5, Heard()) for k, every_s in enumerate(PACES_S)]
    with served_app(IRON_PROBE_ACCOUNTS="1") as app:
        url = database_of(app.data)
        looked = asyncio.run(busy(app.url, hire(url), paces))
        with psycopg.connect(url.replace("+psycopg", "")) as connection:
            rows = connection.execute("select l.id::text, j.number from log_entry l join job j on j.id = l.job_id").fetchall()
    lines = [
        f"## {TECHNICIANS} technicians signed in, {SCREENS} live screens",
        "",
        f"Each loads the Bench, logs a reading of a sound machine and asks for the engine's word, again and again; every {TWICE}th reading is sent twice at once. {SHEETS} circuits. Load and app share 2 cores.",
        "",
    ]
    watched = paces[0][2].watched
    kept = [entry for entry, _ in rows]
    for every_s, seconds, heard in paces:
        missed = sum(1 for entry, job in rows if job in looked and entry in heard.accepted and entry not in watched[job])
        lost = len(heard.accepted - set(kept))
        told = ", ".join(f"{w} {heard.refused.count(w)} times" for w in sorted(set(heard.refused))) or "nothing refused"
        said = {
            "a reading": heard.posts,
            "the Bench": heard.pages,
            "the engine's word": heard.words,
            "a line on another screen": heard.delays,
        }
        lines += ["| what | times | p50 | p95 |", "| --- | ---: | ---: | ---: |"]
        lines += [
            f"| {name} | {len(taken)} | {p50:.0f} ms | {p95:.0f} ms |"
            for name, taken in said.items()
            for p50, p95 in [percentiles_ms(taken)]
        ]
        lines += [
            "",
            f"The above: each every {every_s:g} s for {seconds:.0f} s. Accepted {len(heard.accepted)}, lost {lost}; {told}; lines that a live screen was not told: {missed}.",
            "",
        ]
    return "\n".join([*lines, f"Doubled in the database: {len(kept) - len(set(kept))}.", ""])
