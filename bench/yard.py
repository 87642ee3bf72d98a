"""A yard of a hundred thousand jobs, and a log of twenty thousand lines: what they cost beside an empty yard and a log of twenty."""

import json
import tempfile
import time
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from uuid import UUID, uuid4

from fastapi.testclient import TestClient
from sqlalchemy import Engine, text
from sqlmodel import Session

from bench.timing import percentiles_ms
from iron_probe.core.job.job import DEMO, Job
from iron_probe.core.kept import Kept
from iron_probe.store import history, queries
from iron_probe.store.cluster import cluster
from iron_probe.store.database import connect
from iron_probe.store.history import Asked
from iron_probe.store.migrate import migrate
from iron_probe.store.tables import now
from iron_probe.web.app import create_app
from iron_probe.web.rooms import SCREENS
from iron_probe.work.jobs import TakeIn, take_in
from iron_probe.work.machines import NewMachine, copy_of_shipped
from iron_probe.work.verdicts import ready

JOBS, LINES, FEW = 100_000, 20_000, 20
PAGES, SEARCHES, LOOKS = 60, 60, 12
FILL = """
with made as (insert into job (id, machine_id, version_id, key, complaint, symptom, circumstances, changed_before, replaced_before, school,
  method, temp_degc, cold_degc, created_at)
  select gen_random_uuid(), :m, :v, 'k', '', '', '', '', '', 'common', 'best', 20, -10, now() - n * interval '7 minutes'
  from generate_series(1, :jobs) n returning id, number, created_at),
put as (insert into log_entry (id, job_id, at, kind, payload, by)
  select gen_random_uuid(), id, created_at, 'note', '{}', 'Hand ' || number % 23 from made cross join generate_series(1, 3))
insert into job_summary (job_id, number, kind, machine, closed, deleted, last_at, facts, words)
select id, number, (array['bus','van','mower','launch','digger','sled','shuttle','tender'])[1 + number % 8], (array['Bus','Van','Mower','Launch','Digger','Sled','Shuttle','Tender'])[1 + number % 8] || ' ' || number % 9973 || ' quay',
  number % 50 > 0, false, created_at,
  cast(:facts as jsonb) || jsonb_build_object('ending', 'repaired', 'repaired', jsonb_build_array('Part ' || number % 41), 'parts', jsonb_build_array((array['cable','joint','relay','battery'])[1 + number % 4])),
  to_tsvector('english', concat_ws(' ', (array['groans','dead','rattles','flat','dim'])[1 + number % 5], 'in the', (array['cold','wet','morning'])[1 + number % 3], 'Part', number % 41, 'fleet', number % 9973))
from made"""
"""Jobs with three lines each by one of 23 hands, what was repaired, and words as complaints have them."""
READINGS = """insert into log_entry (id, job_id, at, kind, payload)
select gen_random_uuid(), :job, now() - (:lines - n) * interval '1 second', 'reading', jsonb_build_object('typed', '0.1', 'corrects', null,
  'reading', jsonb_build_object('instrument', 'voltmeter', 'red', (cast(:points as text[]))[1 + n % :count],
  'black', (cast(:points as text[]))[1 + (n + 1) % :count], 'state', 'crank', 'value', (n % 90) / 100.0, 'resolution', 0.01, 'crank', n))
from generate_series(1, :lines) n"""


def table() -> str:
    """Measure and word it."""
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder:
        Path(folder).chmod(0o755)
        with cluster(Path(folder) / "postgres", throwaway=True) as url:
            engine = connect(url, 120_000)
            migrate(engine)
            lines = [*_yard(engine, Path(folder)), *_logs(engine, Path(folder))]
            engine.dispose()
    return "\n".join([*lines, ""])


def _taken_in(engine: Engine, name: str) -> Job:
    with Session(engine) as session:
        machine = copy_of_shipped(session, NewMachine(id=uuid4(), name=name, kind="pool car"), "pool-car", DEMO)
        return take_in(session, TakeIn(uuid4(), {"symptom": "slow"}), machine)


def _timed(times: int, act: Callable[[int], object]) -> list[float]:
    found = []
    for k in range(times):
        start = time.perf_counter()
        act(k)
        found.append(time.perf_counter() - start)
    return found


def _yard(engine: Engine, folder: Path) -> list[str]:
    job = _taken_in(engine, "Pool car 1")
    with Session(engine) as session:
        facts = session.execute(text("select facts from job_summary limit 1")).scalar_one()
        said = {"m": job.pinned.machine_id, "v": job.pinned.version_id, "jobs": JOBS, "facts": json.dumps(facts)}
        session.execute(text(FILL), said)
        session.commit()
        for table in ("job", "job_summary", "log_entry"):
            session.execute(text(f"analyze {table}"))
        session.commit()
    with TestClient(create_app(engine, folder)) as client:
        after = [""]

        def page(k: int) -> None:
            answer = client.get("/", params={"sort": ("state", "machine", "last", "number")[k % 4], "after": after[0] if k % 5 else ""})
            assert answer.status_code == 200

        page(0)
        shown = _timed(PAGES, page)

        def search(k: int) -> None:
            with Session(engine) as session:
                queries.yard_page(session, queries.Sort.STATE, (), ("launch 17", str(4000 + k), "quay", "no such")[k % 4])

        search(0)
        found = _timed(SEARCHES, search)
    asked = [
        Asked(words="groans cold"), Asked(words="part 17"), Asked(words="fleet 4711"), Asked(words="no such word"), Asked(part="relay"), Asked(person="Hand 7"),
        Asked(kind="bus", words="rattles"), Asked(kind="mower"), Asked(since=now() - timedelta(days=30)),
    ]  # fmt: skip

    def look_up(k: int) -> None:
        with Session(engine) as session:
            history.jobs_found(session, asked[k % len(asked)])

    def page_of_history(k: int) -> None:
        said = ({"words": "groans cold"}, {"part": "relay"}, {"person": "Hand 7"}, {"kind": "bus"}, {})[k % 5]
        assert client.get("/history", params=said).status_code == 200

    with TestClient(create_app(engine, folder)) as client:
        look_up(0)
        page_of_history(0)
        looked, paged = _timed(SEARCHES, look_up), _timed(SEARCHES, page_of_history)
    rows = [
        ("Yard page, every order", shown), ("search by machine or number, in the database", found),
        ("history by words, part, person, kind, day, in the database", looked), ("history page", paged),
    ]  # fmt: skip
    lines = [f"## A yard of {JOBS:,} jobs", "", "| what | p50 | p95 |", "| --- | ---: | ---: |"]
    return [*lines, *(f"| {name} | {p50:.0f} ms | {p95:.0f} ms |" for name, (p50, p95) in ((n, percentiles_ms(t)) for n, t in rows)), ""]


def _fill(engine: Engine, job: Job, lines: int) -> None:
    points = list(job.sheet.points)[:12]
    with Session(engine) as session:
        said = {"job": job.id, "lines": lines, "points": points, "count": len(points)}
        session.execute(text(READINGS), said)
        session.commit()


def _logs(engine: Engine, folder: Path) -> list[str]:
    jobs = {lines: _taken_in(engine, f"Pool car {lines}") for lines in (FEW, LINES)}
    for lines, job in jobs.items():
        _fill(engine, job, lines)
    out = [
        f"## A log of {LINES:,} lines beside one of {FEW}",
        "",
        f"| screen | {FEW} lines | {LINES:,} lines | times |",
        "| --- | ---: | ---: | ---: |",
    ]
    with TestClient(create_app(engine, folder)) as client:
        client.get("/")
        token = client.cookies["iron_probe_form"]
        for job in jobs.values():
            ready(job, 60.0)  # both are shown with the engine's word
        screens = [(s.title, s.path) for s in SCREENS]
        for title, path in [("logging a reading", "post"), *screens]:
            shown = {}
            for lines, job in jobs.items():
                act = _logging(client, token, job.number) if path == "post" else _looking(client, job.number, path)
                act(0)
                shown[lines] = percentiles_ms(_timed(LOOKS, act))[0]
            out.append(f"| {title} | {shown[FEW]:.0f} ms | {shown[LINES]:.0f} ms | {shown[LINES] / shown[FEW]:.2f} |")
        next(k for k in Kept.every if k.name == "logs").clear()
        first = _timed(1, _looking(client, jobs[LINES].number, ""))[0]
    return [*out, "", f"A process that meets the long log first needs {first:.1f} s once, without a snapshot."]


def _looking(client: TestClient, number: int, path: str) -> Callable[[int], object]:
    def look(k: int) -> None:
        answer = client.get(f"/jobs/{number}{path}")
        assert answer.status_code == 200, answer.text[-300:]

    return look


def _logging(client: TestClient, token: str, number: int) -> Callable[[int], object]:
    def log(k: int) -> None:
        form = {
            "form_token": token, "entry_id": str(UUID(int=uuid4().int)), "instrument": "voltmeter", "state": "crank", "red": "bat.plus",
            "black": "bat.minus", "value": f"10.{k}",
        }  # fmt: skip
        answer = client.post(f"/jobs/{number}/readings", data=form, headers={"HX-Request": "true"})
        assert answer.status_code == 200, answer.text[-300:]

    return log
