"""The sleeping circuit as a tree, and the currents that readings leave possible on it."""

import pytest

from iron_probe.core.bench.drain.feed_tree import feed_tree, usual_total_a
from iron_probe.core.circuit.network import network_of
from iron_probe.machines import load_sheet
from tests.core.bench.drain.taken import SHUTTLE


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
