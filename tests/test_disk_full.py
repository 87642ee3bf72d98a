"""The disk full while readings come in: a clear word to each, the house stays, and once there is room work goes on with nothing lost or doubled."""

import subprocess
import tempfile
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path

import pytest

from tools.served import Served, served_in, until
from tools.technician import Technician, go_on, lines_kept

ROOM_MB = 500
FULL, WAIT = 507, 503


@pytest.fixture
def small_disk() -> Iterator[Path]:
    """A disk of its own with room for the yard and little more, where the database's own user may go too."""
    with tempfile.TemporaryDirectory(prefix="iron-probe-disk-") as name:
        folder = Path(name)
        folder.chmod(0o755)
        command = ["mount", "-t", "tmpfs", "-o", f"size={ROOM_MB}m", "tmpfs", name]
        mounted = subprocess.run(command, capture_output=True, text=True, check=False)
        if mounted.returncode:
            pytest.skip(f"no disk can be mounted here: {mounted.stderr.strip()}")
        yield folder
        subprocess.run(["umount", "-l", name], check=True)


def fill(disk: Path) -> Path:
    """Take all room there is."""
    ballast = disk / "ballast"
    with ballast.open("ab", buffering=0) as heap:
        for size in (1 << 20, 1 << 12):
            try:
                while True:
                    heap.write(b"\0" * size)
            except OSError:
                continue
    return ballast


def answer(house: Served) -> tuple[int, str]:
    """What the Yard says, full or not."""
    try:
        with urllib.request.urlopen(house.url, timeout=60) as page:
            return page.status, page.read().decode()
    except urllib.error.HTTPError as error:
        return error.code, error.read().decode()


def test_a_full_disk_is_said_and_nothing_accepted_is_lost(small_disk: Path) -> None:
    with served_in(small_disk) as house:
        technicians = [Technician(house.url, job) for job in (101, 101, 102)]
        for t in technicians:
            t.start()
        until(lambda: all(len(t.accepted) >= 2 for t in technicians), "readings come in")
        ballast = fill(small_disk)
        until(lambda: fill(small_disk) and any(t.refused or t.waited for t in technicians), "somebody feels it")
        status, said = answer(house)
        assert status == 200 or (status in (FULL, WAIT) and ("disk is full" in said or "database does not answer" in said))
        ballast.unlink()
        go_on(technicians)
        for t in technicians:
            t.ended.set()
            t.join(60)
        accepted = [entry for t in technicians for entry in t.accepted]
        assert {status for t in technicians for status in t.refused} <= {FULL}
        assert len(set(accepted)) == len(accepted) == lines_kept(house.data, accepted)
