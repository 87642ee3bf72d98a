"""The order in which points are removed."""

from iron_probe.core.solve.elimination import plan_elimination


def test_points_with_few_neighbours_go_first_and_those_held_back_last() -> None:
    star = plan_elimination(4, [(0, 1), (0, 2), (0, 3)])
    assert star.steps.point.tolist()[:2] == [1, 2]  # an end before the middle
    assert plan_elimination(4, [(0, 1), (0, 2), (0, 3)], last=[1]).steps.point[-1] == 1


def test_a_ring_fills_in_one_edge_between_the_neighbours_of_the_first() -> None:
    ring = plan_elimination(4, [(0, 1), (1, 2), (2, 3), (3, 0)])
    assert ring.edges == 5
    assert ring.slot_of(1, 3) == ring.slot_of(3, 1)
    i, j, between = ring.steps.mesh[0]
    assert {int(ring.steps.neighbour[i]), int(ring.steps.neighbour[j])} == {1, 3}
    assert between == ring.slot_of(1, 3)


def test_a_pair_on_one_point_is_no_edge() -> None:
    assert plan_elimination(2, [(0, 0), (0, 1)]).edges == 1
