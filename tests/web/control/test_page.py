"""The control page gathers chain, sockets and modules of any machine."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.circuit.elements import Module, Relay
from iron_probe.web.control.page import ControlPage, control_page
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log


@pytest.mark.parametrize("number", [101, 102, 104])
def test_every_relay_has_its_socket_and_every_module_its_checks(yard: Engine, number: int) -> None:
    page = gathered(yard, number)
    elements = page.sheet.elements
    assert {s.id for s in page.stations if s.station.socket} == {e.id for e in elements if isinstance(e, Relay)}
    modules = {e.id for e in elements if isinstance(e, Module)}
    assert modules <= {s.id for s in page.stations}
    assert all(bool(s.checks) is (s.id in modules or s.station.socket is not None) for s in page.stations)


def test_the_page_stands_at_a_test_that_is_named_and_goes_on_behind_one_that_was_made(yard: Engine) -> None:
    named = gathered(yard, 102, at="start-relay:3")
    assert named.here and named.here.id == "start-relay" and named.step and named.step.step.title == "Across the coil"
    behind = gathered(yard, 102, after="start-relay:3")
    assert behind.made == (named.here, 3)
    assert behind.here and behind.k == 4
    relay_checks = len(named.here.steps)
    assert gathered(yard, 102, at=f"start-relay:{relay_checks}").check is not None
    for odd in ("start-relay:999", "nothing:1", "start-relay:x", ":"):
        page = gathered(yard, 102, at=odd)
        assert page.here and page.k < page.here.count


def gathered(yard: Engine, number: int, at: str = "", after: str = "") -> ControlPage:
    with Session(yard) as session:
        job = find_job(session, number)
        assert job is not None
        return control_page(job, job_log(session, job), at, after)
