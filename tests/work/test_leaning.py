"""Codes and checks lean, and prove nothing."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.bench.control.module_checks import LEAN
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.job.job import DEMO
from iron_probe.core.job.lines import CodeLine, TestLine
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


def test_a_relay_tried_by_itself_leans_by_its_newest_check_and_a_module_not_at_all(yard: Engine) -> None:
    with Session(yard) as session:
        jobs = [j for n in range(101, 120) if (j := find_job(session, n)) is not None and j.closed_at is None]

        def checked(kind: str, test: str, value: str) -> float:
            job, part = next((j, e) for j in jobs for e in j.sheet.elements if e.type == kind)
            line = TestLine(screen="check", subject=part.id, test=test, typed={"value": value})
            return leanings(append(session, job, DEMO, line), job.sheet).get(part.id, 1.0)

        assert checked("relay", "relay_click", "clicks") == LEAN[Verdict.GOOD]
        assert checked("relay", "relay_contact", "40 mV") == LEAN[Verdict.GOOD]  # good ones once together
        assert checked("relay", "relay_click", "silent") == LEAN[Verdict.BAD]
        assert checked("module", "pair_ohm", "120") == checked("module", "reference", "0.1") == 1.0  # those that say it are readings
