"""Captures in blocks: what is read back is what was written, at every scale."""

from uuid import uuid4

import numpy as np
import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.errors import CaptureError
from iron_probe.store import captures
from iron_probe.store.tables import Capture
from iron_probe.work.jobs import find_job

COUNT = 200_000


@pytest.fixture
def written(yard: Engine) -> tuple[Capture, np.ndarray]:
    data = np.sin(np.arange(COUNT) / 700).astype(np.float32)
    data[123_456] = 50.0
    with Session(yard, expire_on_commit=False) as session:
        job = find_job(session, 102)
        assert job is not None
        layout = {"channels": [{"role": "amps", "name": "clamp"}]}
        row = Capture(
            id=uuid4(), job_id=job.id, filename="x.csv", size_bytes=5, digest="d", preview={}, layout=layout, facts={"count": COUNT}
        )
        captures.add_upload(session, row, [b"ab", b"cd", b"e"])
        captures.write_blocks(session, row.id, 0, data)
        session.commit()
    return row, data


def test_samples_come_back_and_no_spike_is_lost_at_any_width(yard: Engine, written: tuple[Capture, np.ndarray]) -> None:
    row, data = written
    with Session(yard) as session:
        assert np.array_equal(captures.samples_of(session, row)[0], data)
        for width in (1, 10, 300, 1200):
            view = captures.read_view(session, row, 0, COUNT, width)
            assert len(view.low[0]) <= 2 * width and view.high[0].max() == 50.0
        beyond = captures.read_view(session, row, -50, COUNT * 9, 100)
        assert (beyond.first, beyond.last) == (0, COUNT)
        close = captures.read_view(session, row, 1000, 1010, 500)
        assert np.array_equal(close.low[0], data[1000:1010])


def test_an_upload_is_kept_in_blocks_known_by_its_content_and_let_go(yard: Engine, written: tuple[Capture, np.ndarray]) -> None:
    row, _ = written
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        assert b"".join(captures.upload_blocks(session, row.id)) == b"abcde"
        same = captures.same_upload(session, job, "d")
        assert same is not None and same.id == row.id and captures.same_upload(session, job, "other") is None
        captures.drop_upload(session, row.id)
        with pytest.raises(CaptureError, match="Upload it again"):
            b"".join(captures.upload_blocks(session, row.id))


def test_a_record_too_long_to_hold_is_refused(yard: Engine, written: tuple[Capture, np.ndarray]) -> None:
    row, _ = written
    row.facts = {"count": captures.MOST_WHOLE + 1}
    with Session(yard) as session, pytest.raises(CaptureError, match="export the second"):
        captures.samples_of(session, row)
