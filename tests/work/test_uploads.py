"""Uploads: room for them on the disk, and those an earlier version kept as files."""

import shutil
from pathlib import Path
from typing import NamedTuple

import pytest

from iron_probe.work import uploads
from iron_probe.work.uploads import BLOCK, KEPT_FREE_BYTES, file_blocks, has_room


class Usage(NamedTuple):
    total: int
    used: int
    free: int


@pytest.mark.parametrize(("free", "fits"), [(KEPT_FREE_BYTES + 2_000_000, True), (KEPT_FREE_BYTES + 1_999_999, False), (0, False)])
def test_an_upload_leaves_room_for_readings(monkeypatch: pytest.MonkeyPatch, tmp_path: Path, free: int, fits: bool) -> None:
    monkeypatch.setattr(shutil, "disk_usage", lambda folder: Usage(10**9, 10**9 - free, free))
    assert uploads.has_room(tmp_path, 1_000_000) is fits


def test_a_file_comes_in_blocks_and_whole(tmp_path: Path) -> None:
    file = tmp_path / "a.upload"
    file.write_bytes(b"x" * (2 * BLOCK + 5))
    assert [len(b) for b in file_blocks(file)] == [BLOCK, BLOCK, 5]
    assert has_room(tmp_path, 1)
