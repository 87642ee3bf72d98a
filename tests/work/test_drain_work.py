"""Drain readings put to the core."""

from dataclasses import replace

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.bench.drain.currents import TOTAL, Way
from iron_probe.core.errors import ReadingError
from iron_probe.core.job.job import Job
from iron_probe.core.job.lines import DrainLine
from iron_probe.machines import load_sheet
from iron_probe.work.drain_work import DrainSettings, check_place, interval_of, tree_of
from iron_probe.work.jobs import find_job


@pytest.fixture
def job(yard: Engine) -> Job:
    with Session(yard) as session:
        found = find_job(session, 102)
    assert found is not None
    return found


def line(where: str, way: Way, value: float, **more: float) -> DrainLine:
    return DrainLine.model_validate({"where": where, "way": way, "typed": str(value), "value": value, "resolution": 0.001, **more})


def test_a_total_is_booked_off_and_a_pulled_fuse_is_its_fall(job: Job) -> None:
    tree = tree_of(job)[1]
    plain, booked = (interval_of(line(TOTAL, Way.SERIES, 0.5), tree, 20.0, b) for b in (0.0, 0.2))
    assert booked.best == pytest.approx(plain.best - 0.2, abs=1e-6)
    fuse = tree.fuses()[0][1].id
    fall = interval_of(line(fuse, Way.PULL, 0.1, before_a=0.5), tree, 20.0)
    assert fall.low <= 0.4 <= fall.high


def test_a_total_keeps_its_sign(job: Job) -> None:
    tree = tree_of(job)[1]
    into = interval_of(line(TOTAL, Way.CLAMP, -0.3), tree, 20.0)
    assert (into.best, into.high < 0) == (-0.3, True)
    assert into.low < into.best < into.high


def test_a_cable_to_another_battery_is_no_place_for_the_clamp(job: Job) -> None:
    van = replace(job, sheet=load_sheet("ferry-van"), drain={})
    assert DrainSettings.of(van).ground_cables == 2
    with pytest.raises(ReadingError, match="Another battery feeds"):
        interval_of(line("plus-lead", Way.CLAMP, 0.3), tree_of(van)[1], 20.0)


def test_millivolts_belong_to_fuses_and_places_must_be_there(job: Job) -> None:
    tree = tree_of(job)[1]
    with pytest.raises(ReadingError, match="is no fuse"):
        interval_of(line(next(e.id for e in job.sheet.elements if e.type == "cable"), Way.DROP, 0.001), tree, 20.0)
    check_place(tree, TOTAL)
    with pytest.raises(ReadingError, match="no evidence"):
        check_place(tree, "F99")
