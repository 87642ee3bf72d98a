"""The day of a yard: drawn by when each wait ends, and filled by what fits."""

from datetime import UTC, datetime, timedelta

from iron_probe.core.guide.step import Act
from iron_probe.core.job.day import SHOWN, STEP_MINUTES, InHand, fitting, minutes_of, stretches
from iron_probe.core.job.step import Due, JobStep

NOW = datetime(2026, 11, 30, 9, 0, tzinfo=UTC)


def job(number: int, act: Act | None, *waits_h: float, hand: str = "", lain_h: float = 1.0) -> InHand:
    waits = tuple(Due(text=f"wait {h}", until=NOW + timedelta(hours=h)) for h in waits_h)
    return InHand(
        number=number, machine=f"Bus {number}", page="", step=JobStep(act=act), waits=waits, last_at=NOW - timedelta(hours=lain_h), hand=hand
    )  # fmt: skip


def test_waits_are_drawn_soonest_first_and_end_within_the_day() -> None:
    drawn = stretches([job(1, Act.MEASURE, 6, 30), job(2, Act.TOTAL, -1)], NOW)
    assert [(s.job.number, s.ends, s.due) for s in drawn] == [(2, 0.0, True), (1, timedelta(hours=6) / SHOWN, False), (1, 1.0, False)]


def test_a_step_takes_its_minutes_and_a_wait_nobodys() -> None:
    assert minutes_of(JobStep(act=Act.REPAIR)) == 30 and minutes_of(JobStep(act=Act.WAIT)) is None and minutes_of(JobStep()) is None
    assert set(Act) - set(STEP_MINUTES) == {Act.WAIT, Act.CLOSED}


def test_what_fits_begins_with_what_is_due_and_leaves_out_what_waits_or_is_in_anothers_hand() -> None:
    jobs = [
        job(1, Act.REPAIR), job(2, Act.MEASURE, lain_h=2), job(3, Act.MEASURE, lain_h=5), job(4, Act.MEASURE, hand="Tam"), job(5, Act.MEASURE, 2),
        job(6, Act.WAIT, -0.1), job(7, Act.MEASURE, hand="Una", lain_h=0.1), job(8, Act.WAIT),
    ]  # fmt: skip
    assert [j.number for j, _ in fitting(jobs, 10, NOW, "Una")] == [6, 7, 3, 2]
    assert {j.number for j, _ in fitting(jobs, 45, NOW, "Tam")} == {1, 2, 3, 4, 6}
    assert fitting(jobs, 1, NOW, "Una") == ()
