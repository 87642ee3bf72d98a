"""A job's conditions are its temperature's."""

from dataclasses import replace

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.work.jobs import find_job


@pytest.mark.parametrize("degc", [-20.0, 35.0])
def test_conditions_follow_the_temperature(yard: Engine, degc: float) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
    assert job is not None and replace(job, temp_degc=degc).conditions.temp_degc == degc
