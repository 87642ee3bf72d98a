"""Parts are confirmed by what was measured at themselves, and by nothing else."""

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.job.confirmed import confirmed
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log
from tests.conftest import Visitor


def test_a_reading_across_a_part_confirms_it_and_one_across_a_way_does_not(visitor: Visitor, yard: Engine) -> None:
    def known() -> frozenset[str]:
        with Session(yard) as session:
            job = find_job(session, 102)
            assert job is not None
            return confirmed(job_log(session, job), job.sheet)

    before = known()
    said = {"state": "crank", "instrument": "voltmeter"}
    visitor.submit("/jobs/102/readings", red="front.stud", black="starter.case", value="9.1", **said)
    assert known() == before
    visitor.submit("/jobs/102/readings", red="bat.plus", black="clamp.plus", value="0.02", **said)
    assert known() - before == {"plus-clamp"}
    visitor.submit("/jobs/102/readings", branch="starter-cable", value="180", state="crank", instrument="clamp")
    assert known() - before == {"plus-clamp", "starter-cable"}
    page = visitor.get("/jobs/102").text
    assert "plus-clamp" in page.split('data-confirmed="', 1)[1].split('"')[0]
    visitor.submit("/jobs/102/undo")
    assert known() - before == {"plus-clamp"}
