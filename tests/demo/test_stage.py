"""A demo job stands on a machine of its own."""

from datetime import UTC, datetime
from uuid import uuid4

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.demo.stage import stage_job
from iron_probe.store import queries
from iron_probe.work.jobs import find_job


def test_it_is_copied_from_a_shipped_sheet(yard: Engine) -> None:
    intake = {"sheet_id": "green-mower", "machine": "Mower 99", "complaint": "slow", "school": "common", "temp_degc": 5.0}
    with Session(yard) as session:
        job = stage_job(session, uuid4(), intake, datetime(2026, 2, 1, tzinfo=UTC))
        session.commit()
        kept = find_job(session, job.number)
        assert kept is not None and (kept.machine, kept.sheet.id, kept.temp_degc) == ("Mower 99", "green-mower", 5.0)
        assert "Mower 99" in [m.name for m in queries.machines(session)]
