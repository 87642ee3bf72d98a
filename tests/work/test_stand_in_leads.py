"""What is at the stand-ins' leads: the practice machine's own figures, a crank as it runs, nothing of a real machine."""

from datetime import datetime, timedelta
from uuid import uuid4

import numpy as np
import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.bay.case import Level
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import TECHNICIAN, Job
from iron_probe.core.meters.measured import Measured
from iron_probe.store.meters import Placing
from iron_probe.work import meters, practice
from iron_probe.work.jobs import find_job
from iron_probe.work.stand_in_leads import HELD_S, LOAD_S, READY_S, Leads


@pytest.fixture
def job(yard: Engine) -> Job:
    with Session(yard) as session:
        return practice.begin(session, uuid4(), (Level.SOUND, "crew-minibus", 4), lambda case, seen: "It is well.", TECHNICIAN)


def put(yard: Engine, job: Job, **said: str) -> datetime:
    """Put the leads somewhere; the moment they are there."""
    with Session(yard) as session:
        placing = Placing(job_id=job.id, **said)
        meters.place(session, job, placing)
        kept = session.get(Placing, job.id)
        assert kept is not None
        return kept.at


def test_at_rest_the_battery_and_nothing_through_the_clamp_but_what_sleeps(yard: Engine, job: Job) -> None:
    leads, selected = Leads(yard), str(job.number)
    volts, amps = leads.shows(selected, Measured.DC_VOLTS), leads.shows(selected, Measured.AMPS)
    assert volts is not None and 12.3 < volts < 12.9
    assert amps is not None and 0 <= amps < 0.1
    inside = leads.shows(selected, Measured.OHMS)
    assert inside is not None and 0.002 < inside < 0.02  # a starter battery of a van: some milliohms (common practice)


def test_a_crank_begins_when_the_meter_has_seen_rest_and_ends_by_itself(yard: Engine, job: Job) -> None:
    sheet, selected = job.sheet, str(job.number)
    crank = sheet.cranking_state()
    assert crank
    placed, seen = put(yard, job, state=crank, instrument="voltmeter", red=sheet.plus, black=sheet.minus), {}
    clock = [placed]
    leads = Leads(yard, lambda: clock[0])
    leads.shows(selected, Measured.DC_VOLTS)  # from here the key is counted
    for name, after_s in (
        ("before", 0.0),
        ("turns", READY_S + 1.0),
        ("still turns", READY_S + HELD_S - 0.1),
        ("after", READY_S + HELD_S + 0.1),
    ):
        clock[0] = placed + timedelta(seconds=after_s)
        seen[name] = leads.shows(selected, Measured.DC_VOLTS)
    assert seen["before"] == seen["after"] and all(v is not None for v in seen.values())
    assert seen["turns"] < seen["before"] - 0.5 and seen["still turns"] < seen["before"] - 0.5  # type: ignore[operator]


def test_a_crank_sags_at_once_and_climbs(yard: Engine, job: Job) -> None:
    sheet = job.sheet
    placed = put(yard, job, state=str(sheet.cranking_state()), instrument="voltmeter", red=sheet.plus, black=sheet.minus)
    passed = iter((0.0, *np.linspace(READY_S + 0.001, READY_S + HELD_S, 400)))
    leads = Leads(yard, lambda: placed + timedelta(seconds=float(next(passed))))
    volts = np.array([leads.shows(str(job.number), Measured.DC_VOLTS) for _ in range(400)], dtype=float)
    assert volts[:40].min() < volts[200:].mean()  # inrush


def test_a_load_is_put_on_and_taken_off(yard: Engine, job: Job) -> None:
    sheet = job.sheet
    placed = put(yard, job, state=next(iter(sheet.states)), instrument="load_100a", red=sheet.plus, black=sheet.minus)
    passed = iter((0.0, 0.0, READY_S + 3, READY_S + LOAD_S + 1))
    leads = Leads(yard, lambda: placed + timedelta(seconds=next(passed)))
    seen = [leads.shows(str(job.number), Measured.DC_VOLTS) for _ in range(3)]
    rest, loaded, after = seen
    assert rest == after and rest is not None and loaded is not None and 0.3 < rest - loaded < 3


def test_volts_over_a_part_follow_the_leads(yard: Engine, job: Job) -> None:
    sheet, leads = job.sheet, Leads(yard)
    put(yard, job, state=next(iter(sheet.states)), instrument="voltmeter", red=sheet.minus, black=sheet.plus)
    turned = leads.shows(str(job.number), Measured.DC_VOLTS)
    assert turned is not None and turned < -12


@pytest.mark.parametrize("selected", ["", "103", "99999", "job; drop", "9" * 30])
def test_what_is_no_practice_job_shows_nothing(yard: Engine, selected: str) -> None:
    assert Leads(yard).shows(selected, Measured.DC_VOLTS) is None


@pytest.mark.parametrize("said", [{"red": "the blue one"}, {"state": "afloat"}, {"branch": "anchor"}])
def test_leads_go_only_where_the_machine_has_something(yard: Engine, job: Job, said: dict[str, str]) -> None:
    with pytest.raises(Exception, match=r"no (point|state|element)|no .* is called"):
        put(yard, job, **({"state": next(iter(job.sheet.states)), "instrument": "voltmeter"} | said))
    real = Placing(job_id=job.id, state=next(iter(job.sheet.states)))
    with Session(yard) as session:
        found = find_job(session, 103)
        assert found is not None
        with pytest.raises(ReadingError, match="Only leads of stand-ins"):
            meters.place(session, found, real)
