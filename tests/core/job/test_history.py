"""A machine's figures from job to job."""

from datetime import UTC, datetime

import pytest

from iron_probe.core.job.history import Change, Figure, Measure, change_of, figures_of, since_last
from iron_probe.machines import load_sheet

AT = datetime(2026, 3, 12, 9, 0, tzinfo=UTC)


def figure(measure: Measure, value: float, temp_degc: float = 15.0) -> Figure:
    return Figure(measure=measure, value=value, at=AT, temp_degc=temp_degc)


@pytest.mark.parametrize(
    ("measure", "before", "now", "change"),
    [
        (Measure.CRANKING_V, 10.6, 9.8, Change.WORSE),
        (Measure.CRANKING_V, 10.6, 10.5, Change.SAME),
        (Measure.CHARGING_V, 13.2, 14.2, Change.BETTER),
        (Measure.SUPPLY_DROP_V, 0.20, 0.34, Change.WORSE),
        (Measure.GROUND_DROP_V, 0.40, 0.12, Change.BETTER),
        (Measure.DRAW_A, 0.020, 0.024, Change.SAME),
        (Measure.DRAW_A, 0.020, 0.090, Change.WORSE),
        (Measure.REST_V, 12.7, 12.1, Change.NOT_JUDGED),
    ],
)
def test_worse_is_less_at_the_posts_and_more_along_the_ways(measure: Measure, before: float, now: float, change: Change) -> None:
    assert change_of(figure(measure, before), figure(measure, now), 12.0) is change


def test_a_crank_in_the_cold_is_not_held_against_one_in_summer() -> None:
    assert change_of(figure(Measure.CRANKING_V, 10.6, 24.0), figure(Measure.CRANKING_V, 9.4, -3.0), 12.0) is Change.OTHER_WEATHER


def test_posts_of_a_machine_of_24_volts_differ_by_twice_as_much() -> None:
    assert change_of(figure(Measure.CHARGING_V, 28.0), figure(Measure.CHARGING_V, 27.5), 24.0) is Change.SAME
    assert change_of(figure(Measure.CHARGING_V, 14.0), figure(Measure.CHARGING_V, 13.5), 12.0) is Change.WORSE


def test_each_figure_is_held_against_the_newest_job_that_has_it() -> None:
    earlier = [(104, [figure(Measure.REST_V, 12.6)]), (103, [figure(Measure.CRANKING_V, 10.4), figure(Measure.REST_V, 12.5)])]
    found = since_last([figure(Measure.CRANKING_V, 9.6), figure(Measure.REST_V, 12.6), figure(Measure.DRAW_A, 0.02)], earlier, 12.0)
    assert [(s.now.measure, s.job, s.change) for s in found] == [
        (Measure.CRANKING_V, 103, Change.WORSE),
        (Measure.REST_V, 104, Change.NOT_JUDGED),
    ]


def test_nothing_read_leaves_no_figures() -> None:
    assert figures_of(load_sheet("crew-minibus"), (), None, None, 20.0) == ()
    assert figures_of(load_sheet("crew-minibus"), (), None, (0.035, AT), 20.0)[0].value == 0.035
