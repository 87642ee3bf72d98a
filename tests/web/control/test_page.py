"""The control page gathers chain, sockets and modules of any machine."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.circuit.elements import Module, Relay
from iron_probe.web.control.page import control_page
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log


@pytest.mark.parametrize("number", [101, 102, 104])
def test_every_relay_has_its_socket_and_every_module_its_checks(yard: Engine, number: int) -> None:
    with Session(yard) as session:
        job = find_job(session, number)
        assert job is not None
        page = control_page(job, job_log(session, job))
        assert [s.relay.id for s, _, _ in page.sockets] == [e.id for e in job.sheet.elements if isinstance(e, Relay)]
        assert [m.id for m, _ in page.modules] == [e.id for e in job.sheet.elements if isinstance(e, Module)]
        assert all(checks for _, checks in page.modules)
