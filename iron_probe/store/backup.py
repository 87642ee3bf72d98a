"""The whole yard as one file and back: PostgreSQL's own archive, read through before it counts, put back in one transaction."""

import hashlib
import os
import subprocess
from pathlib import Path
from typing import IO

from sqlalchemy import Engine, make_url, text

from iron_probe.core.errors import IronProbeError
from iron_probe.store.cluster import BINARIES
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate

PIECE = 1 << 20
BEGIN_ANEW = "drop schema public cascade; create schema public;\n"
LONG_MS = 600_000


class BackupError(IronProbeError):
    """A backup that could not be made, read or put back; the text says why."""


def backup(url: str, file: Path) -> int:
    """Write the yard into a file, which appears whole and read through or not at all, with its SHA-256 beside it; its size [bytes]."""
    passing = file.with_name(f"{file.name}.part")
    try:
        with passing.open("wb") as out:
            _run("pg_dump", ["--format=custom", "--compress=6", "--no-owner", "--no-privileges"], url, stdout=out)
            out.flush()
            os.fsync(out.fileno())
        read_through(passing)
        digest = _digest(passing)
        _sum_of(file).unlink(missing_ok=True)
        passing.rename(file)
        _sum_of(file).write_text(f"{digest}  {file.name}\n")
    except OSError as error:
        raise BackupError(f"{file} could not be written: {error.strerror or error}. Nothing that was there before is lost") from error
    finally:
        passing.unlink(missing_ok=True)
    return file.stat().st_size


def read_through(file: Path) -> None:
    """Read a backup from end to end, every table unpacked; BackupError where it is none, is cut short, or is not what its sum says."""
    if not file.is_file():
        raise BackupError(f"There is no file {file}")
    told = _sum_of(file)
    if told.is_file() and told.read_text().split()[:1] != [_digest(file)]:
        raise BackupError(f"{file} is not what {told.name} says: it was changed or broken on its way. Take another backup")
    _run("pg_restore", ["--file=/dev/null", str(file)], None)


def restore(url: str, file: Path) -> None:
    """Put a backup in the place of the yard: all of it or nothing, however this ends; then bring it to today's schema.

    BackupError where the file is broken, or others are connected, whose memory of the yard would be of another one.
    """
    read_through(file)
    engine = connect(url, LONG_MS)
    try:
        _alone(engine)
        with subprocess.Popen(
            [BINARIES / "pg_restore", "--no-owner", "--no-privileges", "--file=-", file], stdout=subprocess.PIPE
        ) as script:
            try:
                _put_back(url, script)
            except BackupError:
                script.kill()
                raise
        migrate(engine)
    finally:
        engine.dispose()


def _put_back(url: str, script: subprocess.Popen[bytes]) -> None:
    """Feed a script to psql in one transaction that begins with an empty schema. Its last line is ours: a script that was cut off before it
    changes nothing."""
    assert script.stdout is not None
    command: list[str | Path] = [BINARIES / "psql", "--quiet", "--no-psqlrc", "--set=ON_ERROR_STOP=1", "--output=/dev/null", _plain(url)]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stderr=subprocess.PIPE, env=_environment(url)) as psql:
        assert psql.stdin is not None and psql.stderr is not None
        try:
            psql.stdin.write(f"begin;\n{BEGIN_ANEW}".encode())
            while piece := script.stdout.read(PIECE):
                psql.stdin.write(piece)
            if script.wait() == 0:
                psql.stdin.write(b"\ncommit;\n")
            psql.stdin.close()
        except BrokenPipeError:
            pass  # what went wrong stands on its error output
        told = psql.stderr.read().decode(errors="replace")
        if psql.wait() or script.wait():
            raise BackupError(f"The backup could not be put back, and the yard is as it was: {_last(told)}")


def _alone(engine: Engine) -> None:
    with engine.connect() as connection:
        others = connection.execute(
            text(
                "select count(*) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid() and backend_type = 'client backend'"
            )
        ).scalar_one()
    if others:
        raise BackupError(f"{others} others are connected to this yard: stop the app and its workers first, then restore")


def _run(program: str, arguments: list[str], url: str | None, stdout: IO[bytes] | int = subprocess.DEVNULL) -> None:
    if not (BINARIES / program).exists():
        raise BackupError(f"{program} is missing: ./run setup installs PostgreSQL 15 with it")
    command: list[str | Path] = [BINARIES / program, *arguments, *([_plain(url)] if url else [])]
    done = subprocess.run(command, check=False, stdout=stdout, stderr=subprocess.PIPE, env=_environment(url) if url else None)
    if done.returncode:
        raise BackupError(f"{program}: {_last(done.stderr.decode(errors='replace'))}")


def _plain(url: str) -> str:
    """The URL without its password, which would stand in the list of processes."""
    return make_url(url).set(drivername="postgresql", password=None).render_as_string(hide_password=False)


def _environment(url: str) -> dict[str, str]:
    return {**os.environ, "PGPASSWORD": make_url(url).password or ""}


def _last(told: str) -> str:
    return (told.strip().splitlines() or ["it gave no reason"])[-1][:300]


def _sum_of(file: Path) -> Path:
    return file.with_name(f"{file.name}.sha256")


def _digest(file: Path) -> str:
    with file.open("rb") as data:
        return hashlib.file_digest(data, "sha256").hexdigest()
