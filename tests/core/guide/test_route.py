"""The legs of a job and where it stands on each."""

import pytest

from iron_probe.core.guide.route import ROUTES, Concern, Leg, Standing, route


@pytest.mark.parametrize("concern", list(Concern))
def test_every_route_ends_in_repair_retest_and_close(concern: Concern) -> None:
    assert ROUTES[concern][-3:] == (Leg.REPAIR, Leg.RETEST, Leg.CLOSE)
    assert len(set(ROUTES[concern])) == len(ROUTES[concern])


def test_what_was_passed_over_is_not_needed_and_what_comes_lies_ahead() -> None:
    stops = {s.leg: s.standing for s in route(Concern.STARTING, Leg.GROUND, {Leg.BATTERY, Leg.POSTS}, {Leg.COMMAND})}
    assert (stops[Leg.BATTERY], stops[Leg.GROUND], stops[Leg.REPAIR]) == (Standing.DONE, Standing.HERE, Standing.AHEAD)
    assert stops[Leg.COMMAND] is Standing.NOT_NEEDED and stops[Leg.SUPPLY] is Standing.NOT_NEEDED


def test_a_leg_that_is_needless_ahead_is_said_so() -> None:
    stops = {s.leg: s.standing for s in route(Concern.STARTING, Leg.BATTERY, (), {Leg.COMMAND})}
    assert stops[Leg.COMMAND] is Standing.NOT_NEEDED and stops[Leg.SUPPLY] is Standing.AHEAD
