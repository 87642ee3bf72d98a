"""The sleeping circuit as a tree, and the currents that readings leave possible on it."""

import pytest

from iron_probe.core.bench.drain.feed_tree import Draws, feed_tree, usual_total_a
from iron_probe.core.bench.drain.suspects import probes
from iron_probe.core.circuit.network import network_of
from iron_probe.core.circuit.sheet import Sheet
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
    assert SHUTTLE.consumers[SHUTTLE.consumer_at("alternator.output")].why is Draws.DIODES
    mower = load_sheet("green-mower")

    def why(sheet: Sheet) -> Draws:
        return next(c.why for c in feed_tree(network_of(sheet)).consumers if c.element == "rectifier")

    assert why(mower) is Draws.TWO_DIODES  # one alone has no way to minus
    grounded = [e.model_copy(update={"star_grounded": True}) if e.type == "stator" else e for e in mower.elements]
    with_star_on_ground = mower.model_construct(**{**dict(mower), "elements": grounded})
    assert why(with_star_on_ground) is Draws.DIODES


def test_what_leads_to_another_battery_is_fed_from_both_ends() -> None:
    van = feed_tree(network_of(load_sheet("ferry-van")))
    assert van.two_way == {"plus-clamp", "plus-lead", "plus-lead-2", "plus-clamp-2"}
    assert not SHUTTLE.two_way
    offered = {p.where for p in probes(van)}
    assert "starter-cable" in offered
    assert not van.two_way & offered
