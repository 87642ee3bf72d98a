"""Opening the house where something is wrong: one line of what to do, never a traceback."""

import os
import socket
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from iron_probe import opening

NOWHERE = "postgresql+psycopg://a:b@127.0.0.1:1/none"


def told(command: str, **environment: str) -> str:
    """What a command says on its way out."""
    clean = {k: v for k, v in os.environ.items() if not k.startswith("IRON_PROBE_")}
    done = subprocess.run(
        [sys.executable, "-m", "iron_probe.cli", command], env={**clean, **environment}, capture_output=True, text=True, timeout=120, check=False
    )  # fmt: skip
    assert done.returncode != 0
    assert "Traceback" not in done.stderr + done.stdout
    lines = (done.stderr + done.stdout).strip().splitlines()
    assert len(lines) == 1, lines
    return lines[0]


@pytest.fixture
def taken_port() -> Iterator[int]:
    with socket.socket() as held:
        held.bind(("127.0.0.1", 0))
        held.listen()
        yield int(held.getsockname()[1])


@pytest.mark.parametrize(
    ("command", "environment", "says"),
    [
        ("serve", {"IRON_PROBE_DATABASE_URL": NOWHERE}, "Check IRON_PROBE_DATABASE_URL"),
        ("worker", {"IRON_PROBE_DATABASE_URL": NOWHERE}, "Check IRON_PROBE_DATABASE_URL"),
        ("worker", {}, "A worker needs IRON_PROBE_DATABASE_URL"),
        ("serve", {"IRON_PROBE_DATABASE_URL": "nonsense"}, "Could not parse"),
        ("serve", {"IRON_PROBE_PORT": "99999"}, "less than or equal to 65535"),
        ("serve", {"IRON_PROBE_PORT": "abc"}, "valid integer"),
        ("serve", {"IRON_PROBE_LAN": "1"}, "only with accounts"),
        ("serve", {"IRON_PROBE_DATA": "/proc/nothing"}, "Check free disk space and the rights"),
    ],
)
def test_a_wrong_setting_is_one_line_of_what_to_do(command: str, environment: dict[str, str], says: str) -> None:
    assert says in told(command, **environment)


def test_a_data_folder_that_is_a_file_or_was_cut_short_says_so(tmp_path: Path) -> None:
    tmp_path.chmod(0o755)
    (tmp_path / "file").touch()
    assert "file" in told("serve", IRON_PROBE_DATA=str(tmp_path / "file"))
    cut = tmp_path / "cut/postgres/data"
    cut.mkdir(parents=True)
    (cut / "PG_VERSION").write_text("15\n")
    assert "set IRON_PROBE_DATA" in told("serve", IRON_PROBE_DATA=str(tmp_path / "cut"))


def test_a_port_in_use_is_named(taken_port: int, tmp_path: Path) -> None:
    assert f"Port {taken_port} is in use" in told("serve", IRON_PROBE_PORT=str(taken_port), IRON_PROBE_DATA=str(tmp_path))


def test_counts_stand_in_memory_and_what_a_killed_run_left_is_emptied(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    memory = tmp_path / "memory"
    memory.mkdir()
    monkeypatch.setattr(opening, "MEMORY", memory)
    place = opening.place_for_counts(tmp_path / "yard")
    (place / "counter_1.db").touch()
    assert opening.place_for_counts(tmp_path / "yard") == place and place.parent == memory and not list(place.iterdir())
    assert opening.place_for_counts(tmp_path / "other") != place


def test_where_memory_has_no_folders_counts_stand_beside_the_data(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(opening, "MEMORY", tmp_path / "none")
    assert opening.place_for_counts(tmp_path).parent == tmp_path
    with pytest.raises(OSError, match=r"give .* rights to write"):
        opening.place_for_counts(tmp_path / "nowhere")
