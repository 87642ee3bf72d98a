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
from iron_probe.work.logs import append, job_log


@pytest.mark.parametrize("active", [True, False])
def test_a_code_raises_the_parts_it_names_and_none_that_are_not_there(yard: Engine, active: bool) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        part = job.sheet.elements[3].id
        line = CodeLine(code="X1", module="", text="", active=active, elements=(part, "gone"))
        shifts = leanings(append(session, job, DEMO, line), job.sheet)
        assert shifts[part] == pytest.approx(CODE_LEAN[active]) and "gone" not in shifts


def test_a_check_typed_again_counts_once_and_good_ones_never_add_up_to_proof(yard: Engine) -> None:
    with Session(yard) as session:
        jobs = (find_job(session, n) for n in range(101, 120))
        job, module = next((j, e) for j in jobs if j is not None and j.closed_at is None for e in j.sheet.elements if e.type == "module")

        def checked(test: str, value: str) -> float:
            line = TestLine(screen="check", subject=module.id, test=test, typed={"value": value})
            return leanings(append(session, job, DEMO, line), job.sheet)[module.id]

        before = leanings(job_log(session, job), job.sheet).get(module.id, 1.0)
        good = checked("reference", "5.0 V")
        assert good == pytest.approx(before * LEAN[Verdict.GOOD])
        for test, value in (("reference", "5.0 V"), ("pair_ohm", "60 Ω"), ("high_v", "2.6 V")):
            assert checked(test, value) == good
        assert checked("reference", "0.1 V") == pytest.approx(before * LEAN[Verdict.BAD])  # the newest stands for the check
