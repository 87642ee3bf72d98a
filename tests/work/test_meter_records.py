"""A stream kept: what waits to be written stays small however long it runs."""

from collections.abc import Iterator
from dataclasses import dataclass
from uuid import UUID, uuid4

import pytest
from sqlalchemy import Engine, func
from sqlalchemy.exc import OperationalError
from sqlmodel import Session, col, select

from iron_probe.core.job.job import TECHNICIAN, Job
from iron_probe.core.meters.measured import Measured
from iron_probe.instruments.messages import Hello, Offered, Shown
from iron_probe.store.meters import MeterRow, leave, use_of
from iron_probe.store.tables import Capture, UploadBlock
from iron_probe.work import meter_records as records
from iron_probe.work import meters
from iron_probe.work.import_capture import import_capture
from iron_probe.work.jobs import find_job

CLAMP = Offered(name="Clamp", address="TCPIP::192.0.2.8::5025::SOCKET", measures=(Measured.AMPS,))
METER = CLAMP.id_of("cart")
HOURS, PER_S, AT_ONCE_S = 8, 10, 10
"""Ten figures a second, told ten seconds at once."""


@dataclass(frozen=True)
class Recorded:
    """A clamp that is recorded on a job."""

    session: Session
    job: Job
    capture_id: UUID


@pytest.fixture
def recorded(yard: Engine) -> Iterator[Recorded]:
    with Session(yard) as session:
        meters.arrived(session, Hello(agent="cart", meters=(CLAMP,)))
        job = find_job(session, 103)
        assert job is not None
        meters.take(session, job, METER, TECHNICIAN)
        yield Recorded(session, job, records.begin_record(session, job, METER))


def test_eight_hours_of_ten_a_second_take_no_more_memory_than_five_seconds(yard: Engine, recorded: Recorded) -> None:
    session, use = recorded.session, use_of(recorded.session, recorded.job.id, METER)
    assert use is not None
    keeper = records.Keeper(103, Measured.AMPS)
    assert keeper.set_as(use) is None
    most = 0
    for second in range(0, HOURS * 3600, AT_ONCE_S):
        at = tuple(keeper.since + second + k / PER_S for k in range(AT_ONCE_S * PER_S))
        keeper.take(Shown(meter=METER, job=103, first=second * PER_S, at=at, values=tuple(0.03 + k % 10 / 1000 for k in range(len(at)))))
        most = max(most, len(keeper._lines))
        if keeper.is_due(float(second)):
            keeper.write(session, float(second))
    assert most <= (records.WRITE_EVERY_S + 2 * AT_ONCE_S) * PER_S
    keeper.write(session, HOURS * 3600.0 + 100)
    blocks = session.exec(select(func.count()).where(col(UploadBlock.capture_id) == recorded.capture_id)).one()
    assert blocks >= HOURS * 3600 / AT_ONCE_S - 2  # every turn but the first wrote
    assert records.end_record(session, recorded.job, METER) is None and records.to_be_read(session, recorded.capture_id)
    assert not records.to_be_read(session, recorded.capture_id)  # once
    import_capture(yard, recorded.capture_id)
    with Session(yard) as afresh:
        capture = afresh.get_one(Capture, recorded.capture_id)
        assert capture.status == "ready" and capture.read_samples == HOURS * 3600 * PER_S
        assert abs(capture.facts["step_s"] - 1 / PER_S) < 1e-3


def test_what_comes_before_the_record_is_not_in_it() -> None:
    keeper = records.Keeper(103, Measured.AMPS, capture=uuid4(), since=1000.0)
    keeper.take(Shown(meter=METER, job=103, at=(999.9, 1000.1), values=(1.0, 2.0)))
    assert keeper._lines == ["0.100,2\n"]


class Away:
    """A database that is away."""

    def exec(self, query: object) -> None:
        raise OperationalError("select", {}, Exception("away"))


def test_what_could_not_be_written_is_written_when_the_database_is_back(recorded: Recorded) -> None:
    keeper = records.Keeper(103, Measured.AMPS, capture=recorded.capture_id, since=1000.0)
    keeper.take(Shown(meter=METER, job=103, at=(1000.0, 1000.1), values=(1.0, None)))
    with pytest.raises(OperationalError):
        keeper.write(Away(), 1.0)  # type: ignore[arg-type]
    keeper.take(Shown(meter=METER, job=103, first=2, at=(1000.2,), values=(3.0,)))
    keeper.write(recorded.session, 2.0)
    query = select(UploadBlock.data).where(col(UploadBlock.capture_id) == recorded.capture_id).order_by(col(UploadBlock.number))
    assert b"".join(recorded.session.exec(query)) == b"seconds,A\n0.000,1\n0.100,\n0.200,3\n"


def test_an_agent_that_joined_again_is_not_taken_for_gone(yard: Engine) -> None:
    with Session(yard) as session:
        first = meters.arrived(session, Hello(agent="cart", meters=(CLAMP,)))
        second = meters.arrived(session, Hello(agent="cart", meters=(CLAMP,)))
        leave(session, "cart", first)  # the old link is only now noticed as lost
        assert session.get_one(MeterRow, METER).joined
        leave(session, "cart", second)
        session.expire_all()
        assert not session.get_one(MeterRow, METER).joined
