"""The private database: brought back when it was killed, started past a stale lock, and refused in one line."""

import os
import shutil
import signal
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy import text

from iron_probe.store.cluster import Cluster, ClusterError
from iron_probe.store.database import connect


@pytest.fixture
def base() -> Iterator[Path]:
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder:
        Path(folder).chmod(0o755)
        yield Path(folder) / "postgres"


def answer(cluster: Cluster) -> int:
    engine = connect(cluster.url)
    with engine.connect() as connection:
        found: int = connection.execute(text("select 41 + 1")).scalar_one()
    engine.dispose()
    return found


def test_a_killed_server_is_brought_back_on_its_address(base: Path) -> None:
    cluster = Cluster(base, throwaway=True)
    cluster.start()
    try:
        before = cluster.url
        assert cluster.bring_back() is False
        os.kill(int((base / "data/postmaster.pid").read_text().split()[0]), signal.SIGKILL)
        cluster._server.wait(10)  # type: ignore[union-attr]
        assert cluster.bring_back() is True
        assert (cluster.url, answer(cluster)) == (before, 42)
        assert (base / "log").stat().st_mode & 0o077 == 0
    finally:
        cluster.stop()


def test_a_lock_of_another_program_is_stale_and_a_broken_folder_is_told_in_one_line(base: Path) -> None:
    cluster = Cluster(base, throwaway=True)
    cluster.start()
    cluster.stop()
    (base / "data/postmaster.pid").write_text(f"{os.getpid()}\n{base / 'data'}\n")
    cluster.start()
    assert answer(cluster) == 42
    cluster.stop()
    shutil.rmtree(base / "data/global")
    with pytest.raises(ClusterError, match="did not start") as caught:
        cluster.start()
    assert "\n" not in str(caught.value)
    cluster.stop()
