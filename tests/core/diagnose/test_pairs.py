"""Which pairs of faults are worth solving."""

import numpy as np

from iron_probe.core.diagnose.ensemble import Hypothesis
from iron_probe.core.diagnose.fault_mode import FaultMode
from iron_probe.core.diagnose.pairs import TRIED, likely_pairs


def one(element: str, graded: bool = False) -> Hypothesis:
    return Hypothesis((FaultMode(element=element, name="open", effects=(), weight=1.0, least=1.0, most=2.0 if graded else 1.0),), 1.0)


NONE = Hypothesis((), 1.0)
FOUR = [NONE, one("fuse"), one("bolt", graded=True), one("lamp"), one("wire")]
SINGLE = np.array([False, True, True, True, True])
EVEN = np.full(5, np.log(0.2))


def test_two_that_explain_all_between_them_come_before_two_that_explain_the_same() -> None:
    #               none, fuse, bolt, lamp, wire
    per = np.array([
        [0.0, 6.0, 0.0, 5.0, 0.0],
        [0.0, 0.0, 6.0, 0.0, 0.0],
        [0.0, 5.0, 0.0, 6.0, 0.0],
    ])  # fmt: skip
    assert set(likely_pairs(FOUR, SINGLE, per, EVEN)[0]) in ({1, 2}, {2, 3})


def test_what_one_spoils_and_the_other_does_not_explain_stays_spoiled() -> None:
    per = np.array([[0.0, 6.0, 0.0, 6.0, 0.0], [0.0, 0.0, 6.0, 0.0, 0.0], [0.0, -9.0, 0.0, 0.0, 0.0]])
    assert likely_pairs(FOUR, SINGLE, per, EVEN)[0] == (2, 3)


def test_what_one_spoils_the_other_may_explain() -> None:
    per = np.array([[0.0, 9.0, -9.0, 0.0, 0.0], [0.0, -9.0, 9.0, 0.0, 0.0]])
    assert likely_pairs(FOUR, SINGLE, per, EVEN)[0] == (2, 1)  # the one with a severity first


def test_a_pair_is_of_two_elements_of_this_machine_and_of_singles() -> None:
    twins = [NONE, one("fuse"), one("fuse", graded=True), one("lamp"), one("wire")]
    prior = np.array([*EVEN[:4], -np.inf])
    found = likely_pairs(twins, SINGLE, np.ones((2, 5)), prior)
    assert sorted(map(sorted, found)) == [[1, 3], [2, 3]]


def test_no_more_than_so_many_are_tried() -> None:
    many = [NONE, *(one(f"wire-{n}") for n in range(12))]
    assert len(likely_pairs(many, np.arange(13) > 0, np.ones((1, 13)), np.zeros(13))) == TRIED
