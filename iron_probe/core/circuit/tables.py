"""Figures between the steps of a published table."""

from bisect import bisect_left
from math import exp, log


def along(table: dict[float, float], x: float) -> float:
    """The value at `x` (above 0) of a table of at least two steps, along a straight line in logarithms; beyond its ends along the last one."""
    if x in table:
        return table[x]
    steps = sorted(table)
    place = min(max(bisect_left(steps, x), 1), len(steps) - 1)
    low, high = steps[place - 1], steps[place]
    slope = log(table[high] / table[low]) / log(high / low)
    return exp(log(table[low]) + slope * log(x / low))
