"""What was found, in words."""

import numpy as np

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.apart import FoundWay
from iron_probe.core.diagnose.posterior import Posterior
from iron_probe.web import finding_words


def left_of(**more: object) -> Posterior:
    given: dict[str, object] = {
        "suspects": (), "eliminated": (), "no_fault": 0.0, "off_sheet": 0.0, "unexplained": (), "contradictory": (), "found": None, "pair": None,
        "weights": np.ones(1),
    }  # fmt: skip
    return Posterior(**{**given, **more})  # type: ignore[arg-type]


def test_a_joint_beside_a_part_is_told_with_the_part(minibus: Sheet) -> None:
    wire = next(e for e in minibus.elements if e.type == "wire")
    told = finding_words.found_beside(left_of(beside=((wire.id, 0.95),)), minibus)
    assert told.startswith(f"{wire.title.lower()}: sound between its own two ends, so a joint or splice")


def test_a_way_to_ground_is_named_where_something_speaks_for_it(minibus: Sheet) -> None:
    wire = next(e for e in minibus.elements if e.type == "wire")
    likely, hardly = (left_of(grounded=((wire.id, p),), off_sheet=0.9) for p in (0.8, 0.02))
    assert (
        finding_words.grounded(likely, minibus)
        == f"most likely a way to ground at the {wire.title.lower()}, which is sound by itself: 80 %"
    )
    assert finding_words.grounded(hardly, minibus) == finding_words.grounded(left_of(), minibus) == ""


def test_a_way_is_told_by_its_ends_and_parts(minibus: Sheet) -> None:
    wire = next(e for e in minibus.elements if e.type == "wire")
    first, last = wire.points()
    told = finding_words.way(FoundWay(elements=(wire.id,), first=first, last=last, share=0.9), minibus)
    assert told == f"the way from {minibus.points[first].title} to {minibus.points[last].title} ({wire.title.lower()})"


def test_two_faults_are_one_sentence_and_none_is_nothing(minibus: Sheet) -> None:
    assert finding_words.two_at_once(left_of(), minibus) == ""
