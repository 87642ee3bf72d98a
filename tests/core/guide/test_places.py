"""Every reading belongs to a leg of the route it is asked on."""

import pytest

from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.guide.places import leg_of, posts_in
from iron_probe.core.guide.route import ROUTES, Concern, Leg
from iron_probe.machines import load_sheet

SHEET = load_sheet("rescue-watercraft")


@pytest.mark.parametrize("concern", Concern)
def test_the_posts_in_any_state_are_on_the_route_of_any_concern(concern: Concern) -> None:
    asked = [posts_in(SHEET, state) for state in SHEET.states]
    asked += [Reading(instrument=Instrument.CLAMP, branch=SHEET.batteries[0].id, state=state, value=0.0) for state in SHEET.states]
    assert {leg_of(SHEET, concern, reading) for reading in asked} <= set(ROUTES[concern])


def test_the_posts_are_read_for_what_the_state_tells_of_them() -> None:
    crank = SHEET.cranking_state() or ""
    assert leg_of(SHEET, Concern.STARTING, posts_in(SHEET, crank)) is Leg.POSTS
    assert leg_of(SHEET, Concern.CHARGING, posts_in(SHEET, SHEET.running_states()[-1])) is Leg.OUTPUT
    assert leg_of(SHEET, Concern.FUSE, posts_in(SHEET, crank)) is Leg.HALVES
