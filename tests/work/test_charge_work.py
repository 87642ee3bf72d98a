"""Output, drops and subtraction from a job's readings."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.bench.charging import maker_of
from iron_probe.core.bench.judged import Verdict
from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.job.fold import LoggedReading, newest_volts
from iron_probe.core.job.job import Job
from iron_probe.machines import load_sheet
from iron_probe.work.charge_work import amount, both_ways, on_purpose, output_verdict
from iron_probe.work.jobs import find_job

START = datetime(2026, 3, 1, 9, tzinfo=UTC)


def logged(number: int, minutes: float, **said: object) -> LoggedReading:
    at = START + timedelta(minutes=minutes)
    return LoggedReading(id=uuid4(), number=number, epoch=0, at=at, reading=Reading.model_validate(said), typed="")


@pytest.fixture
def job(yard: Engine) -> Job:
    with Session(yard) as session:
        return next(j for n in range(101, 120) if (j := find_job(session, n)) is not None and j.sheet.running_states())


def test_the_newest_of_a_place_counts_and_leads_may_be_turned(job: Job) -> None:
    plus, minus, fast = job.sheet.plus, job.sheet.minus, job.sheet.running_states()[-1]
    readings = [logged(1, 0, red=plus, black=minus, state=fast, value=12.2), logged(2, 1, red=minus, black=plus, state=fast, value=-14.2)]
    newest = newest_volts(readings, {plus, minus}, fast)
    assert newest is not None and amount(newest) == 14.2 and amount(None) == 0.0
    verdict = output_verdict(job, readings)
    assert verdict is not None and verdict.verdict is Verdict.GOOD
    low = output_verdict(job, readings[:1])
    assert low is not None and low.verdict is Verdict.BAD
    assert output_verdict(job, []) is None


def test_output_less_battery_is_refused_when_they_are_far_apart(job: Job) -> None:
    maker, plus, minus, fast = maker_of(job.sheet), job.sheet.plus, job.sheet.minus, job.sheet.running_states()[-1]
    out = logged(1, 0, red=maker.b, black=maker.case, state=fast, value=14.5)
    near = logged(2, 0.5, red=plus, black=minus, state=fast, value=14.2)
    late = logged(2, 30, red=plus, black=minus, state=fast, value=14.2)
    assert "0.30 V lost both ways" in both_ways(job.sheet, [out, near], maker, [fast])
    assert "lost both ways" not in both_ways(job.sheet, [out, late], maker, [fast])


def test_volts_that_a_module_asks_for_on_purpose_are_no_verdict_on_the_output(job: Job) -> None:
    van = load_sheet("parcel-van")
    taken = replace(job, sheet=van)
    assert on_purpose(van, "passive") == 12.6 and on_purpose(van, "idle") is None
    passive = logged(1, 0, red=van.plus, black=van.minus, state="passive", value=12.7)
    alone = output_verdict(taken, [passive])
    assert alone is not None and alone.verdict is Verdict.OPEN and "on purpose" in alone.text and "obeys" in alone.text
    idling = output_verdict(taken, [passive, logged(2, 1, red=van.plus, black=van.minus, state="idle", value=14.3)])
    assert idling is not None and idling.verdict is Verdict.GOOD
    stubborn = output_verdict(taken, [logged(1, 0, red=van.plus, black=van.minus, state="slowing", value=13.6)])
    assert stubborn is not None and "does not obey" in stubborn.text


def test_a_machine_without_a_charging_system_is_judged_all_the_same(job: Job) -> None:
    kart = replace(job, sheet=load_sheet("training-kart"))
    posts = logged(1, 0, red=kart.sheet.plus, black=kart.sheet.minus, state=kart.sheet.running_states()[-1], value=11.9)
    judged = output_verdict(kart, [posts])
    assert judged is not None and judged.next_step == ""
