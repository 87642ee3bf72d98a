"""Two app processes, the worker and the database killed in turn while readings come in: work goes on, and nothing accepted is lost or doubled."""

import contextlib
import os
import signal
import subprocess
from collections.abc import Iterator
from pathlib import Path

import pytest

from tools.served import Served, served_app, until
from tools.technician import Technician, go_on, lines_kept


@pytest.fixture
def house() -> Iterator[Served]:
    with served_app() as app:
        yield app


def children(of: int) -> dict[int, str]:
    """The app processes and the worker of a house: what each was started as, by its number."""
    listed = subprocess.run(["ps", "-o", "pid=,args=", "--ppid", str(of)], capture_output=True, text=True, check=True).stdout
    found = {}
    for line in listed.splitlines():
        number, _, command = line.strip().partition(" ")
        if "iron_probe.cli" in command:
            found[int(number)] = command.rpartition("iron_probe.cli ")[2].split()[0]
    return found


def database(data: Path) -> int:
    """The process of the house's database, by its number; 0 while there is none."""
    with contextlib.suppress(FileNotFoundError, IndexError):
        return int((data / "postgres/data/postmaster.pid").read_text().split()[0])
    return 0


def test_each_process_killed_in_turn_work_goes_on(house: Served) -> None:
    assert house.process
    parent = house.process.pid
    until(lambda: sorted(children(parent).values()) == ["app", "app", "worker"], "all three run")
    technicians = [Technician(house.url, job) for job in (101, 101, 102)]
    for t in technicians:
        t.start()
    until(lambda: all(len(t.accepted) >= 2 for t in technicians), "readings come in")
    for victim in list(children(parent)):
        os.kill(victim, signal.SIGKILL)
        go_on(technicians)
        until(lambda v=victim: v not in children(parent) and len(children(parent)) == 3, "it is started again")  # type: ignore[misc]
    server = database(house.data)
    os.kill(server, signal.SIGKILL)
    until(lambda: database(house.data) not in (0, server), "the database is brought back")
    go_on(technicians)
    for t in technicians:
        t.ended.set()
        t.join(60)
    accepted = [entry for t in technicians for entry in t.accepted]
    assert not [status for t in technicians for status in t.refused if status >= 500]
    assert len(set(accepted)) == len(accepted) == lines_kept(house.data, accepted)
