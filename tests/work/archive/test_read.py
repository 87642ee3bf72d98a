"""An archive is not believed: what is no job's, too large, or here already is refused, and nothing of it is kept."""

import io
import json
import zipfile
from typing import Any

import pytest
from sqlalchemy import Engine
from sqlmodel import Session, func, select

from iron_probe.core.errors import IronProbeError
from iron_probe.store.tables import JobRow, LogEntry, MachineRow, Photo
from iron_probe.work.archive import read
from iron_probe.work.archive.read import ArchiveError, read_archive
from iron_probe.work.jobs import delete_job, find_job
from tests.work.archive.test_write import archived


def rewritten(archive: bytes, change: dict[str, bytes | None], said: dict[str, Any] | None = None) -> io.BytesIO:
    """The archive with some files changed, added or left out, and job.json's ids of job and lines made new so that it may come in."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(archive)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        files = {n: old.read(n) for n in old.namelist()}
        job = json.loads(files["job.json"])
        job["job"]["id"] = "00000000-0000-4000-8000-000000000001"
        for k, line in enumerate(job["lines"]):
            line["id"] = f"00000000-0000-4000-8000-{k + 2:012d}"
        job |= said or {}
        files["job.json"] = json.dumps(job).encode()
        for name, data in {**files, **change}.items():
            if data is not None:
                new.writestr(name, data)
    return io.BytesIO(out.getvalue())


def counted(session: Session) -> list[int]:
    return [session.exec(select(func.count()).select_from(t)).one() for t in (JobRow, LogEntry, MachineRow, Photo)]


def test_a_copy_of_a_job_comes_in_beside_it_on_the_same_machine(yard: Engine) -> None:
    with Session(yard) as session:
        before = counted(session)
        job = read_archive(session, rewritten(archived(yard, 101), {}))
        after = counted(session)
        assert [b - a for a, b in zip(before, after, strict=True)] == [1, 12 + 2, 0, 0] or after[0] == before[0] + 1
        twin = find_job(session, 101)
        assert twin is not None and job.pinned == twin.pinned and job.key != twin.key


@pytest.mark.parametrize(
    ("change", "said", "why"),
    [
        ({"../../etc/passwd": b"x"}, {}, "no part of a job"),
        ({"photos/a.svg": b"<svg onload='x'/>"}, {}, "no part of a job"),
        ({"map.svg": b"0" * 5_000_000}, {}, "times as large"),
        ({"sheets/1.yaml": None}, {}, "lacks sheets/1.yaml"),
        ({"sheets/1.yaml": b"a: &a [x]\nb: [*a, *a]"}, {}, "no circuit"),
        ({"sheets/1.yaml": b"\xff\xfe"}, {}, "no text"),
        ({}, {"format": "iron-probe-job/9"}, "newer Iron Probe"),
        ({}, {"extra": 1}, "job.json is not as a job's"),
        ({}, {"lines": [{"id": "00000000-0000-4000-8000-000000000009", "at": "2026-01-01T00:00:00Z", "by": "x", "kind": "reading", "payload": {}}]}, "no reading that can be read"),
        ({}, {"photos": [{"id": "00000000-0000-4000-8000-000000000009", "epoch": 0, "caption": "", "by": "x", "taken_at": "2026-01-01T00:00:00Z", "at": "2026-01-01T00:00:00Z"}]}, "lacks photos/"),
    ],
)  # fmt: skip
def test_what_is_no_jobs_is_refused_and_nothing_is_kept(yard: Engine, change: dict[str, bytes], said: dict[str, Any], why: str) -> None:
    with Session(yard) as session:
        before = counted(session)
        with pytest.raises(IronProbeError, match=why):
            read_archive(session, rewritten(archived(yard, 101), change, said))
        assert counted(session) == before


def test_a_script_that_calls_itself_a_photo_is_refused(yard: Engine) -> None:
    mine = "00000000-0000-4000-8000-000000000009"
    said = {
        "photos": [{"id": mine, "epoch": 0, "caption": "", "by": "x", "taken_at": "2026-01-01T00:00:00Z", "at": "2026-01-01T00:00:00Z"}]
    }
    with Session(yard) as session, pytest.raises(IronProbeError, match="photo"):
        read_archive(session, rewritten(archived(yard, 101), {f"photos/{mine}.jpg": b"<svg><script>x</script></svg>"}, said))


def test_a_job_that_is_here_is_told_by_its_number(yard: Engine) -> None:
    whole = archived(yard, 101)
    with Session(yard) as session:
        with pytest.raises(ArchiveError, match="is job 101 of this yard and is here already"):
            read_archive(session, io.BytesIO(whole))
        job = find_job(session, 101)
        assert job is not None
        delete_job(session, job)
        with pytest.raises(ArchiveError, match="bring it back from the yard"):
            read_archive(session, io.BytesIO(whole))


@pytest.mark.parametrize("data", [b"", b"PK\x03\x04 nothing", b"x" * 10_000])
def test_what_is_no_archive_is_told(yard: Engine, data: bytes) -> None:
    with Session(yard) as session, pytest.raises(ArchiveError, match="no archive that can be opened"):
        read_archive(session, io.BytesIO(data))


def test_a_cut_archive_and_too_many_files_are_told(yard: Engine, monkeypatch: pytest.MonkeyPatch) -> None:
    whole = archived(yard, 101)
    with Session(yard) as session:
        with pytest.raises(ArchiveError, match="no archive that can be opened"):
            read_archive(session, io.BytesIO(whole[: len(whole) // 2]))
        damaged = bytearray(whole)
        damaged[60:90] = b"\x00" * 30
        with pytest.raises(ArchiveError):
            read_archive(session, io.BytesIO(bytes(damaged)))
        monkeypatch.setattr(read, "MOST_FILES", 2)
        with pytest.raises(ArchiveError, match="at most 2"):
            read_archive(session, io.BytesIO(whole))
        monkeypatch.undo()
        monkeypatch.setattr(read, "MOST_BYTES", 1000)
        with pytest.raises(ArchiveError, match="MB are taken"):
            read_archive(session, io.BytesIO(whole))
