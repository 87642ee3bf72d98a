"""Codes and checks lean, and prove nothing."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.job.job import DEMO
from iron_probe.core.job.lines import CodeLine
from iron_probe.work.jobs import find_job
from iron_probe.work.leaning import CODE_LEAN, leanings
from iron_probe.work.logs import append


@pytest.mark.parametrize("active", [True, False])
def test_a_code_raises_the_parts_it_names_and_none_that_are_not_there(yard: Engine, active: bool) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        part = job.sheet.elements[3].id
        line = CodeLine(code="X1", module="", text="", active=active, elements=(part, "gone"))
        shifts = leanings(append(session, job, DEMO, line), job.sheet)
        assert shifts[part] == pytest.approx(CODE_LEAN[active]) and "gone" not in shifts
