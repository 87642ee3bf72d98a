"""A job goes out whole and comes in whole, on another yard's database."""

import io
import zipfile
from collections.abc import Iterator

import pytest
from sqlalchemy import Engine
from sqlmodel import Session, col, select

from iron_probe.store import captures, queries
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate
from iron_probe.store.tables import Capture, InstrumentTotal, LogEntry, MachineRow, Photo
from iron_probe.work.archive.read import read_archive
from iron_probe.work.archive.write import write_archive
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log
from iron_probe.work.photos import Shot, keep_photo
from tests.conftest import as_admin
from tests.work.test_photos import photo


@pytest.fixture
def elsewhere(database_url: str) -> Iterator[Engine]:
    """Another yard, empty."""
    as_admin(database_url, "create database elsewhere")
    own = connect(database_url.rsplit("/", 1)[0] + "/elsewhere")
    migrate(own)
    yield own
    own.dispose()
    as_admin(database_url, "drop database elsewhere with (force)")


def archived(engine: Engine, number: int) -> bytes:
    out = io.BytesIO()
    with Session(engine) as session:
        job = find_job(session, number)
        assert job is not None
        write_archive(session, job, out, "<svg/>")
    return out.getvalue()


def numbers(engine: Engine) -> list[int]:
    with Session(engine) as session:
        return [row.number for row in queries.yard_page(session, queries.Sort.NUMBER)]


def test_every_job_of_the_demo_comes_back_as_it_was(yard: Engine, elsewhere: Engine) -> None:
    for number in numbers(yard):
        with Session(yard) as there, Session(elsewhere) as here:
            job = find_job(there, number)
            assert job is not None
            keep_photo(
                there,
                job,
                job.pinned.version_id,
                photo(),
                Shot(caption="stud", by="Una", line=next((r.id for r in job_log(there, job).readings), None)),
            )
            back = read_archive(here, io.BytesIO(archived(yard, number)))
            assert (
                back.sheet == job.sheet
                and back.complaint == job.complaint
                and back.created_at == job.created_at
                and back.drain == job.drain
            )
            for table, order in ((LogEntry, LogEntry.seq), (Photo, Photo.id), (InstrumentTotal, InstrumentTotal.at)):
                gone = {"seq", "job_id"}
                rows = [
                    [r.model_dump(exclude=gone) for r in s.exec(select(table).where(table.job_id == job.id).order_by(col(order))).all()]  # type: ignore[attr-defined]
                    for s in (there, here)
                ]
                assert rows[0] == rows[1], (number, table)
            for capture in captures.captures_of(there, job):
                if capture.status != "ready":
                    continue
                twin = here.get_one(Capture, capture.id)
                assert twin.facts == capture.facts and twin.layout == capture.layout
                for a, b in zip(captures.samples_of(there, capture), captures.samples_of(here, twin), strict=True):
                    assert (a == b).all()
            assert here.get_one(MachineRow, job.pinned.machine_id).name == job.machine
            mine = queries.summaries_of(here, job.pinned.machine_id)[0]
            assert mine.number == back.number and mine.facts


def test_what_is_for_people_stands_beside_it(yard: Engine) -> None:
    with zipfile.ZipFile(io.BytesIO(archived(yard, 101))) as archive:
        names = set(archive.namelist())
        assert {"job.json", "readings.csv", "totals.csv", "map.svg", "sheets/1.yaml"} <= names
        rows = archive.read("readings.csv").decode().splitlines()
        assert rows[0].startswith("number,at,entered,by,red,black") and len(rows) == 13
        csvs = [n for n in names if n.endswith(".csv") and n.startswith("captures/")]
        for name in csvs:
            head, first, *_ = archive.read(name).decode().splitlines()
            assert head.startswith("seconds,") and first.count(",") == head.count(",")
