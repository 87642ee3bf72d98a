"""Backup and restore from the command line, on a yard of its own."""

import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest

from iron_probe.store.cluster import cluster
from iron_probe.store.database import connect
from iron_probe.store.migrate import migrate


def run(data: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "iron_probe.cli", *arguments]
    return subprocess.run(command, env={"PATH": "/usr/bin:/bin", "IRON_PROBE_DATA": str(data)}, capture_output=True, text=True, check=False)


@pytest.fixture
def data() -> Iterator[Path]:
    """A folder that the user postgres can enter."""
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder:
        Path(folder).chmod(0o755)
        yield Path(folder)


def test_a_yard_that_rests_is_written_put_back_and_only_so_many_are_kept(data: Path, tmp_path: Path) -> None:
    kept = tmp_path / "kept"
    kept.mkdir()
    assert "There is no yard" in run(data, "backup", str(kept)).stderr
    with cluster(data / "postgres", throwaway=True) as url:
        engine = connect(url)
        migrate(engine)
        engine.dispose()
        told = run(data, "backup", str(kept / "running.backup"))  # another process runs it
        assert told.returncode == 0 and "read through" in told.stdout
    for name in ("iron-probe-20200101-000000.backup", "iron-probe-20200102-000000.backup"):
        (kept / name).write_text("an old one")
    assert run(data, "backup", str(kept), "--keep", "2").returncode == 0
    assert len(list(kept.glob("iron-probe-*.backup"))) == 2 and not (kept / "iron-probe-20200101-000000.backup").exists()
    done = run(data, "restore", str(kept / "running.backup"))
    assert done.returncode == 0 and "as it was when" in done.stdout
    refused = run(data, "restore", str(kept / "iron-probe-20200102-000000.backup"))
    assert refused.returncode == 2 and len(refused.stderr.strip().splitlines()) == 1
    unknown = run(data, "back-to", "0003")
    assert unknown.returncode == 2 and "0005 at the oldest" in unknown.stderr
    back = run(data, "back-to", "0012")
    assert back.returncode == 0 and "has the schema 0012" in back.stdout
