"""Marks of a practice case: what costs how much, and what the case's clock counts."""

from dataclasses import replace

import pytest

from iron_probe.bay.acts import Caution
from iron_probe.bay.marks import BROKEN, EASY, FULL, LEAST_PAR_MINUTES, PASSES, SLOW, SLOWEST, UNLOADED, Worked, marks, minutes_of
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.limits import READ_MINUTES

WELL = Worked(minutes=6.0, readings=4, visits=3, innocent=(), unproven=(), left=(), closed=True)


def test_who_finds_it_straight_away_has_all_marks() -> None:
    assert marks(WELL, 10.0, 0) == FULL and marks(WELL, None, 0) == FULL


@pytest.mark.parametrize(
    "change",
    [{"left": ("Coil",)}, {"closed": False}, {"innocent": ("Starter", "Battery", "Relay")}],
    ids=["a fault left", "not closed", "three parts for nothing"],
)
def test_a_fault_left_or_parts_for_nothing_do_not_pass(change: dict[str, object]) -> None:
    assert marks(replace(WELL, **change), 10.0, 0) < PASSES  # type: ignore[arg-type]


def test_minutes_cost_from_one_and_a_half_times_the_engines_up_to_three() -> None:
    at = [marks(replace(WELL, minutes=times * 20), 20.0, 0) for times in (EASY, (EASY + SLOWEST) / 2, SLOWEST, 9.0)]
    assert at == [FULL, FULL - SLOW // 2, FULL - SLOW, FULL - SLOW]
    assert marks(replace(WELL, minutes=LEAST_PAR_MINUTES * EASY), 0.5, 0) == FULL


def test_cautions_and_proofs_without_load_cost() -> None:
    broken = marks(replace(WELL, cautions=(Caution.SMOKE, Caution.BY_THE_BELT)), 10.0, 0)
    assert broken == FULL - 2 * BROKEN and marks(replace(WELL, unloaded=("Clamp",)), 10.0, 0) == FULL - UNLOADED
    assert marks(replace(WELL, broke=("Plug",), cost=900), 10.0, 0) == FULL


def test_tests_that_told_nothing_cost_and_never_more_than_ten() -> None:
    assert [marks(WELL, 10.0, idle) for idle in (1, 3, 50)] == [98, 94, 90]


def test_the_clock_counts_access_state_and_reading(minibus: Sheet) -> None:
    crank = minibus.cranking_state()
    assert crank is not None
    red, black = "bat.plus", "clamp.plus"
    reading = Reading(red=red, black=black, state=crank, value=0.1)
    near, far = sorted(minibus.points[p].minutes for p in (red, black))
    once = far + 0.3 * near + READ_MINUTES + minibus.states[crank].minutes
    assert minutes_of(minibus, [reading]) == pytest.approx(once)
    assert minutes_of(minibus, [reading] * 2) == pytest.approx(2 * once)  # a crank is made anew
    rest = [Reading(red=red, black=black, state="rest", value=0.1)] * 2
    assert minutes_of(minibus, rest) == pytest.approx(2 * (far + 0.3 * near + READ_MINUTES) + minibus.states["rest"].minutes)
