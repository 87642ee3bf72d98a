"""Figures as a small line."""

from iron_probe.core.draw.spark import EDGE, HEIGHT, WIDTH, spark


def test_the_least_lies_lowest_and_the_newest_right() -> None:
    line = spark([10.6, 9.8, 10.2])
    assert line[0] == (EDGE, EDGE) and line[1][1] == HEIGHT - EDGE and EDGE < line[2][1] < HEIGHT - EDGE and line[2][0] == WIDTH - EDGE


def test_what_never_changes_is_a_level_line_and_nothing_is_none() -> None:
    assert {y for _, y in spark([12.6, 12.6])} == {HEIGHT / 2}
    assert spark([]) == () and spark([3.0]) == ((EDGE, HEIGHT / 2),)
