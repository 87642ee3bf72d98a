"""Branch currents with their bounds."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from iron_probe.core.bench.drain.amps_read import Interval
from iron_probe.core.bench.drain.currents import TOTAL, Taken, Way, row_of, solve_currents
from iron_probe.core.bench.drain.suspects import Method, find_drains, next_probes
from tests.core.bench.drain.taken import SHUTTLE, taken


def test_bounds_close_in_on_the_culprit_down_to_its_plug() -> None:
    readings = [taken(1, TOTAL, 412, Way.CLAMP), taken(2, "starter-cable", 1, Way.CLAMP), taken(3, "b2", 385), taken(4, "b1", 16)]
    currents = solve_currents(SHUTTLE, readings)
    finding = find_drains(SHUTTLE, currents)
    assert [n.where for n in finding.named] == ["b2"]
    assert finding.named[0].boxed
    assert not finding.closes  # fuses behind it still part it
    offered = {p.where for p in next_probes(SHUTTLE, currents, finding, readings)}
    assert offered & {"l1", "l2", "l3"}
    readings += [taken(5, "l2", 380), taken(6, "gate-plug", 382, Way.PART), taken(7, "gate-controller.supply", 381, Way.PART)]
    currents = solve_currents(SHUTTLE, readings)
    finding = find_drains(SHUTTLE, currents)
    assert [n.where for n in finding.named] == ["gate-controller.supply"]
    assert finding.closes


def test_what_no_box_carries_points_outside_the_boxes() -> None:
    readings = [taken(1, TOTAL, 500, Way.CLAMP), taken(2, "box-cable", 30, Way.CLAMP)]
    currents = solve_currents(SHUTTLE, readings)
    named = find_drains(SHUTTLE, currents).named
    assert currents.stretches["starter-cable"].high > 0.4
    assert all(not n.boxed for n in named)
    assert not find_drains(SHUTTLE, solve_currents(SHUTTLE, [taken(1, TOTAL, 30, Way.CLAMP)])).named


def test_a_branch_above_its_feed_is_said_so_and_a_part_of_the_total_is_a_floor() -> None:
    currents = solve_currents(SHUTTLE, [taken(1, TOTAL, 40, Way.CLAMP), taken(2, "c2", 300)])
    assert "more than the total" in currents.disagreements[0].text
    assert currents.disagreements[0].numbers == (2, 1)
    one_of_two = [taken(1, TOTAL, 100, Way.CLAMP, part_of=True), taken(2, "c2", 300)]
    assert not solve_currents(SHUTTLE, one_of_two).disagreements
    assert solve_currents(SHUTTLE, one_of_two).total.low > 0.26


def test_ratings_are_evidence() -> None:
    readings = [taken(1, TOTAL, 18_000, Way.CLAMP, room=0.02)]
    finding = find_drains(SHUTTLE, solve_currents(SHUTTLE, readings))
    assert {"c1", "l2", "b6"} <= set(finding.too_small)
    assert "b7" not in finding.too_small
    assert not {p.where for p in next_probes(SHUTTLE, solve_currents(SHUTTLE, readings), finding, readings, Method.PULL)} & set(
        finding.too_small
    )


@settings(max_examples=60, deadline=None)
@given(st.lists(st.floats(0, 2), min_size=len(SHUTTLE.consumers), max_size=len(SHUTTLE.consumers)), st.data())
def test_the_truth_never_lies_outside_the_bounds(truth: list[float], data: st.DataObject) -> None:
    x = np.array(truth)
    places = [TOTAL, *SHUTTLE.behind, *(c.branch for c in SHUTTLE.consumers)]
    readings = []
    for number, where in enumerate(data.draw(st.lists(st.sampled_from(places), max_size=8, unique=True)), start=1):
        amps = float(row_of(SHUTTLE, where) @ x)
        readings.append(
            Taken(number=number, where=where, way=Way.CLAMP, amps=Interval(low=0.95 * amps, best=amps, high=1.05 * amps + 1e-3))
        )
    found = solve_currents(SHUTTLE, readings)
    assert not found.disagreements
    for where in places:
        amps, bounds = float(row_of(SHUTTLE, where) @ x), found.of(where, SHUTTLE)
        assert bounds.low - 1e-9 <= amps <= bounds.high + 1e-9
        assert bounds.low >= 0
