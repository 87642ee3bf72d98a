"""The sleeping circuit as a tree, and the currents that readings leave possible on it."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from iron_probe.core.bench.drain.amps_read import Interval, amps_of_drop, hidden_a
from iron_probe.core.bench.drain.currents import TOTAL, Taken, Way, row_of, solve_currents
from iron_probe.core.bench.drain.feed_tree import feed_tree, usual_total_a
from iron_probe.core.bench.drain.suspects import Method, find_drains, next_probes
from iron_probe.core.circuit.network import network_of
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet

SHUTTLE = feed_tree(network_of(load_sheet("lift-shuttle")))


def taken(number: int, where: str, milliamperes: float, way: Way = Way.DROP, room: float = 0.1, part_of: bool = False) -> Taken:
    a = milliamperes / 1000
    amps = Interval(low=a * (1 - room), best=a, high=a * (1 + room) + 0.002)
    return Taken(number=number, where=where, way=way, amps=amps, part_of=part_of)


def test_a_child_box_hangs_behind_its_feeding_fuse() -> None:
    lift = SHUTTLE.behind["b2"]
    assert {SHUTTLE.consumers[k].element for k in lift} >= {"gate-controller", "lift-pump", "step-lamp"}
    assert (
        SHUTTLE.behind["l2"]
        < SHUTTLE.behind["rear-plug"]
        == SHUTTLE.behind["b2"] - {k for k in lift if SHUTTLE.consumers[k].point == "b2.out"}
    )
    assert [s.element for s in SHUTTLE.way_to("gate.supply")] == [
        "plus-clamp", "box-cable", "b2", "rear-feed", "rear-plug", "l2", "gate-wire", "gate-plug",
    ]  # fmt: skip
    assert [s.element for s in SHUTTLE.main_cables()] == ["box-cable", "starter-cable"]
    assert usual_total_a(SHUTTLE) == pytest.approx(0.0315, abs=0.002)


def test_the_motor_side_is_no_consumer_and_diodes_need_a_way_back() -> None:
    assert not {"starter", "solenoid"} & {c.element for c in SHUTTLE.consumers}
    assert "its diodes leak" in SHUTTLE.consumers[SHUTTLE.consumer_at("alternator.output")].why
    mower = load_sheet("green-mower")
    assert "rectifier" not in {c.element for c in feed_tree(network_of(mower)).consumers}
    grounded = [e.model_copy(update={"star_grounded": True}) if e.type == "stator" else e for e in mower.elements]
    with_star_on_ground = mower.model_construct(**{**dict(mower), "elements": grounded})
    assert "rectifier" in {c.element for c in feed_tree(network_of(with_star_on_ground)).consumers}


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


def test_fuse_drop_in_amps_with_what_a_zero_hides() -> None:
    amps = amps_of_drop(0.003, 1e-4, 10)
    assert amps.best == pytest.approx(0.4)
    assert amps.low < 0.35 < 0.45 < amps.high
    assert hidden_a(1e-4, 10) == pytest.approx(0.0133, abs=1e-4)
    assert amps_of_drop(0.0, 1e-4, 10).high == pytest.approx(0.0133 / 0.85, rel=0.01)
    assert amps_of_drop(1e-4, 1e-4, 60, "cartridge").best > amps_of_drop(0.0005, 1e-4, 5, "mini").best
    assert amps_of_drop(0.003, 1e-4, 10, temp_degc=-20).best > 0.45
    with pytest.raises(ReadingError, match="cannot carry"):
        amps_of_drop(0.3, 1e-4, 10)


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


def test_splits_go_by_cable_and_box_before_fuse_and_plug() -> None:
    readings = [taken(1, TOTAL, 412, Way.CLAMP)]
    order = []
    for number in range(2, 30):
        currents = solve_currents(SHUTTLE, readings)
        offered = next_probes(SHUTTLE, currents, find_drains(SHUTTLE, currents), readings)
        if not offered:
            break
        where = offered[0].where
        order.append(where)
        behind = SHUTTLE.behind.get(where, frozenset()) if where in SHUTTLE.behind else frozenset({SHUTTLE.consumer_at(where)})
        carries = SHUTTLE.consumer_at("gate-controller.supply") in behind
        readings.append(taken(number, where, 385 if carries else 0.0, offered[0].way))
    assert min(order.index(box) for box in ("b1", "b2") if box in order) < min(order.index(f) for f in ("l1", "l2", "l3") if f in order)
    assert order[-1] in ("gate-plug", "gate-controller.supply")
    assert "c2" not in order
