"""The board stands at the guide's step, or where the technician chose; a figure is off outside the band of sound machines."""

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.web.charge.page import ChargePage, charge_page
from iron_probe.web.entry import Entered
from iron_probe.work.guide_work import guide_of
from iron_probe.work.jobs import find_job
from iron_probe.work.logs import job_log


def gathered(
    yard: Engine, number: int, place: str = "", state: str = "", entered: Entered | None = None
) -> tuple[ChargePage, Reading | None]:
    with Session(yard) as session:
        job = find_job(session, number)
        assert job is not None
        log = job_log(session, job)
        return charge_page(job, log, place, state, entered or Entered()), guide_of(job, log).step.reading


def test_the_board_stands_where_the_step_says(yard: Engine) -> None:
    page, asked = gathered(yard, 107)
    assert asked is None or page.ask.reading.model_dump(exclude={"value"}) == asked.model_dump(exclude={"value"})
    assert page.stands_at(asked)


@pytest.mark.parametrize(
    ("place", "state", "shown"), [("case", "fast", "fast"), ("amps", "rest", "loaded"), ("ripple", "nowhere", "loaded")]
)
def test_a_place_that_is_chosen_is_shown_in_a_state_it_is_read_in(yard: Engine, place: str, state: str, shown: str) -> None:
    page, _ = gathered(yard, 107, place, state)
    assert (page.here.spot.key, page.shown) == (place, shown)


def test_a_place_that_there_is_not_is_the_steps(yard: Engine) -> None:
    page, asked = gathered(yard, 107, "lamp", "fast")
    assert page.stands_at(asked)
    assert page.spot("lamp") is None and page.spot("posts") is not None


def test_what_was_read_is_off_outside_the_band(yard: Engine) -> None:
    page, _ = gathered(yard, 107)
    read = [(s, state) for s in page.spots for state in s.taken]
    assert read
    off = {(s.spot.key, state) for s, state in read if s.off(state)}
    assert off and all(s.taken[state].reading.instrument is Instrument.VOLTMETER for s, state in read if s.off(state))
