"""An older yard opens as it was: its jobs get machines made from their names and sheets, nothing is lost."""

import json
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path
from uuid import uuid4

import pytest
from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.core.kept import Kept
from iron_probe.store import captures, queries
from iron_probe.store.database import connect
from iron_probe.store.migrate import OLDEST, migrate
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log
from iron_probe.work.uploads import adopt
from tests.conftest import as_admin

JOB = """insert into job (id, sheet_id, machine, complaint, symptom, circumstances, changed_before, replaced_before, school, method, temp_degc,
 cold_degc, absent, marks, created_at) values (:id, :sheet, :machine, 'groans', 'slow', '', '', '', 'tight', 'best', 7, -9, :absent, :marks, :at)"""
LINE = "insert into log_entry (id, job_id, at, kind, payload) values (:id, :job, :at, 'reading', :payload)"
CAPTURE = """insert into capture (id, job_id, at, filename, size_bytes, status, read_samples, message, preview, layout, facts)
 values (:id, :job, :at, 'a.csv', 9, 'reading', 0, '', '{}', '{}', '{}')"""


@pytest.fixture
def old(database_url: str) -> Iterator[Engine]:
    """A database of the schema before machines, with two buses of one name and sheet, and a van."""
    as_admin(database_url, "create database old_yard")
    engine = connect(database_url.rsplit("/", 1)[0] + "/old_yard")
    migrate(engine, "0004")
    yield engine
    engine.dispose()
    as_admin(database_url, "drop database old_yard with (force)")


def test_a_yard_from_before_machines_is_brought_along(old: Engine, tmp_path: Path) -> None:
    at, capture = datetime(2026, 3, 1, 9, tzinfo=UTC), uuid4()
    with Session(old) as session:
        for machine, sheet in (("Bus 7", "crew-minibus"), ("Bus 7", "crew-minibus"), ("Van 2", "parcel-van")):
            job = uuid4()
            said = {"absent": '["isolator"]' if machine == "Bus 7" else "[]", "marks": '{"starter": "weak_point"}'}
            session.execute(text(JOB), {"id": job, "sheet": sheet, "machine": machine, "at": at, **said})
            reading = {"red": "bat.plus", "black": "bat.minus", "state": "rest", "value": 12.4, "instrument": "voltmeter"}
            for _ in range(3):
                payload = json.dumps({"reading": reading, "typed": "12.4", "corrects": None})
                session.execute(text(LINE), {"id": uuid4(), "job": job, "at": at, "payload": payload})
        session.execute(text(CAPTURE), {"id": capture, "job": job, "at": at})
        session.commit()
    (tmp_path / f"{capture}.upload").write_bytes(b"t,a\n1,2\n")
    migrate(old)
    with Session(old) as session:
        assert [m.name for m in queries.machines(session)] == ["Bus 7", "Van 2"]
        for number, machine in ((101, "Bus 7"), (102, "Bus 7"), (103, "Van 2")):
            job_now = find_job(session, number)
            assert job_now is not None
            assert (job_now.machine, job_now.school, job_now.pinned.number) == (machine, "tight", 1)
            log = job_log(session, job_now)
            assert [r.reading.value for r in log.readings] == [12.4] * 3
            assert log.marks["starter"] == "weak_point"
            assert log.absent == (["isolator"] if machine == "Bus 7" else [])
        assert adopt(session, tmp_path) == 1
        assert b"".join(captures.upload_blocks(session, capture)) == b"t,a\n1,2\n"
    assert not list(tmp_path.iterdir())


def test_from_the_first_schema_up_back_and_up_again_no_line_is_lost(database_url: str) -> None:
    as_admin(database_url, "create database first_yard")
    engine = connect(database_url.rsplit("/", 1)[0] + "/first_yard")
    migrate(engine, "0001")
    job, at = uuid4(), datetime(2026, 1, 5, 9, tzinfo=UTC)
    reading = {"red": "bat.plus", "black": "bat.minus", "state": "rest", "value": 12.4, "instrument": "voltmeter"}
    payload = json.dumps({"reading": reading, "typed": "12.4", "corrects": None})
    first = JOB.replace(", marks", "").replace(", :marks", "")
    with Session(engine) as session:
        session.execute(text(first), {"id": job, "sheet": "crew-minibus", "machine": "Bus 7", "at": at, "absent": "[]"})
        session.execute(text(LINE), {"id": uuid4(), "job": job, "at": at, "payload": payload})
        session.commit()

    def read() -> list[float | None]:
        with Session(engine) as session:
            found = find_job(session, 101)
            assert found is not None and found.machine == "Bus 7"
            return [r.reading.value for r in job_log(session, found).readings]

    migrate(engine)
    assert read() == [12.4]
    migrate(engine, OLDEST, back=True)
    with Session(engine) as session:
        assert session.execute(text("select count(*) from log_entry")).scalar_one() == 1
        assert session.execute(text("select to_regclass('practice')")).scalar_one() is None
    migrate(engine)
    for kept in Kept.every:
        kept.clear()
    assert read() == [12.4]
    with pytest.raises(NotImplementedError, match="restore the backup"):
        migrate(engine, "0004", back=True)
    engine.dispose()
    as_admin(database_url, "drop database first_yard with (force)")
