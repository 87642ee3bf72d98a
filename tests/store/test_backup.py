"""The yard in one file and back: read through, put back whole or not at all."""

import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy import Engine, text
from sqlmodel import Session

from iron_probe.store import queries
from iron_probe.store.backup import BackupError, backup, read_through, restore
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate
from tests.conftest import as_admin


@pytest.fixture
def yard_url(yard: Engine) -> Iterator[str]:
    url = yard.url.render_as_string(hide_password=False)
    yard.dispose()
    yield url


@pytest.fixture
def empty_url(database_url: str) -> Iterator[str]:
    as_admin(database_url, "create database put_back")
    yield database_url.rsplit("/", 1)[0] + "/put_back"
    as_admin(database_url, "drop database put_back with (force)")


def jobs_in(url: str) -> int:
    engine = connect(url)
    with Session(engine) as session:
        found = queries.count_jobs(session)
    engine.dispose()
    return found


def test_a_yard_comes_back_as_it_was_in_another_database(yard_url: str, empty_url: str, tmp_path: Path) -> None:
    file = tmp_path / "a.backup"
    assert backup(yard_url, file) == file.stat().st_size > 10_000
    assert not list(tmp_path.glob("*.part"))
    restore(empty_url, file)
    assert jobs_in(empty_url) == jobs_in(yard_url) > 5
    restore(empty_url, file)  # over itself as well
    assert jobs_in(empty_url) == jobs_in(yard_url)


def test_a_backup_of_an_older_schema_is_brought_up_to_date(empty_url: str, tmp_path: Path) -> None:
    engine = connect(empty_url)
    migrate(engine, "0010")
    engine.dispose()
    backup(empty_url, tmp_path / "old.backup")
    restore(empty_url, tmp_path / "old.backup")
    engine = connect(empty_url)
    with engine.connect() as connection:
        assert connection.execute(text("select count(*) from person")).scalar_one() == 0
    engine.dispose()


@pytest.mark.parametrize("harm", ["cut", "changed", "nothing", "other"])
def test_a_broken_backup_changes_nothing(yard_url: str, tmp_path: Path, harm: str) -> None:
    file = tmp_path / "a.backup"
    backup(yard_url, file)
    whole, before = file.read_bytes(), jobs_in(yard_url)
    if harm == "cut":
        (tmp_path / "a.backup.sha256").unlink()
        file.write_bytes(whole[: len(whole) * 2 // 3])
    elif harm == "changed":
        file.write_bytes(whole[:-1] + bytes([whole[-1] ^ 1]))
    elif harm == "nothing":
        file.unlink()
    else:
        (tmp_path / "a.backup.sha256").unlink()
        file.write_text("drop table job;")
    with pytest.raises(BackupError):
        restore(yard_url, file)
    assert jobs_in(yard_url) == before


def test_nothing_is_put_back_under_an_app_that_runs(yard_url: str, tmp_path: Path) -> None:
    backup(yard_url, tmp_path / "a.backup")
    other = connect(yard_url)
    with other.connect(), pytest.raises(BackupError, match="1 others are connected"):
        restore(yard_url, tmp_path / "a.backup")
    other.dispose()


def test_a_restore_killed_midway_leaves_the_yard_as_it_was(yard_url: str, tmp_path: Path) -> None:
    file = tmp_path / "a.backup"
    backup(yard_url, file)
    before, code = (
        jobs_in(yard_url),
        f"from pathlib import Path; from iron_probe.store.backup import restore; restore({yard_url!r}, Path({str(file)!r}))",
    )
    for wait_s in (0.0, 0.2, 0.5, 0.9):
        going = subprocess.Popen([sys.executable, "-c", code], start_new_session=True)
        time.sleep(wait_s)  # no condition to wait for: killed at some moment of its work, each time another
        going.send_signal(signal.SIGKILL)
        going.wait()
        end = time.monotonic() + 60
        while (found := jobs_in(yard_url)) != before and time.monotonic() < end:
            time.sleep(0.1)
        assert found == before


def test_a_backup_that_cannot_be_written_leaves_the_old_one(yard_url: str, tmp_path: Path) -> None:
    file = tmp_path / "a.backup"
    backup(yard_url, file)
    whole = file.read_bytes()
    with pytest.raises(BackupError):
        backup("postgresql+psycopg://a:b@127.0.0.1:1/none", file)
    assert file.read_bytes() == whole
    read_through(file)
    with pytest.raises(BackupError, match="could not be written"):
        backup(yard_url, tmp_path / "no such folder" / "a.backup")
