"""A job's log put to the core."""

from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.job.job import DEMO
from iron_probe.core.job.lines import ReadingLine
from iron_probe.work.drop_work import work_of
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import append, job_log


def test_what_is_to_do_changes_with_a_line_and_is_worked_out_once_for_a_log(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        log = job_log(session, job)
        first = work_of(job, log)
        assert work_of(job, log).board is first.board
        reading = {"red": job.sheet.plus, "black": job.sheet.minus, "state": "crank", "value": 10.6}
        after = append(session, job, DEMO, ReadingLine.model_validate({"reading": reading, "typed": "10.6"}))
        second = work_of(job, after)
        assert second.board is not first.board and second.log.count == first.log.count + 1


def test_volts_on_the_part_itself_do_not_stand_for_the_drop_across_it(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 102)
        assert job is not None
        joint = next(e for e in job.sheet.elements if e.type == "joint")
        red, black = joint.points()
        across = {"red": red, "black": black, "state": "crank", "value": 0.9}
        log = append(session, job, DEMO, ReadingLine.model_validate({"reading": across, "typed": "0.9"}))
        first = work_of(job, log).board
        itself = across | {"branch": joint.id, "value": 0.004}
        second = work_of(job, append(session, job, DEMO, ReadingLine.model_validate({"reading": itself, "typed": "4m"}))).board
        assert first is not None and second is not None and second.judged == first.judged


def test_a_drop_read_in_a_crank_that_went_well_clears_nothing_once_another_failed(yard: Engine) -> None:
    with Session(yard) as session:
        job = find_job(session, 103)
        assert job is not None and job.sheet.cranking_state()
        crank = {"red": job.sheet.plus, "black": job.sheet.minus, "state": job.sheet.cranking_state()}
        joint = next(e for e in job.sheet.elements if e.type == "joint")
        red, black = joint.points()
        well = crank | {"red": red, "black": black, "value": 0.01, "heard": "cranks"}
        log = append(session, job, DEMO, ReadingLine.model_validate({"reading": well, "typed": "10m"}))
        number = log.readings[-1].number
        cleared = work_of(job, log).board
        assert cleared is not None and number in {j.reading.number for j in cleared.judged}
        failed = crank | {"value": 12.4, "heard": "nothing"}
        board = work_of(job, append(session, job, DEMO, ReadingLine.model_validate({"reading": failed, "typed": "12.4"}))).board
        assert board is not None and number not in {j.reading.number for j in board.judged}
