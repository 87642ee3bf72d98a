"""What was found, in words."""

import numpy as np

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.apart import FoundWay
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.web import finding_words


def beside(element: str, mode: str) -> Posterior:
    return Posterior(
        suspects=(), eliminated=(), no_fault=0.0, off_sheet=0.0, unexplained=(), contradictory=(), found=None, pair=None, weights=np.ones(1),
        beside=((element, 0.95),), beside_mode=mode,
    )  # fmt: skip


def test_what_lies_beside_a_part_is_a_joint_or_a_way_to_ground(minibus: Sheet) -> None:
    wire = next(e for e in minibus.elements if e.type == "wire")
    joint, ground = beside(wire.id, "high_resistance"), beside(wire.id, "shorted")
    assert "between its own two ends, so a joint or splice" in finding_words.found_beside(joint)
    assert "by itself, so something that lies on ground" in finding_words.found_beside(ground)
    assert finding_words.follow(joint, minibus).startswith(f"Follow the {wire.title.lower()} to its ends: what loses the volts")
    assert "what lies on ground" in finding_words.follow(ground, minibus)


def test_a_way_is_told_by_its_ends_and_parts(minibus: Sheet) -> None:
    wire = next(e for e in minibus.elements if e.type == "wire")
    first, last = wire.points()
    told = finding_words.way(FoundWay(elements=(wire.id,), first=first, last=last, share=0.9), minibus)
    assert told == f"the way from {minibus.points[first].title} to {minibus.points[last].title} ({wire.title.lower()})"


def test_two_faults_are_one_sentence_and_none_is_nothing(minibus: Sheet) -> None:
    one = beside("", "open")
    assert finding_words.two_at_once(one, minibus) == ""
