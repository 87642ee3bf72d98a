"""Cold resistance of fuses by rating."""

from bisect import bisect_left
from math import exp, log

BLADE_FUSE_MOHM: dict[float, float] = {
    2: 55, 3: 31, 5: 17.5, 7.5: 10.8, 10: 7.5, 15: 4.7, 20: 3.3, 25: 2.5, 30: 1.9, 40: 1.3, 60: 0.75, 80: 0.55,
}  # fmt: skip
"""Cold resistance [mΩ] of blade fuses by rating [A]; typical data sheets (from memory)."""

FUSE_TOLERANCE = 0.15
"""Spread of that resistance from type to type, as a share (from memory)."""


def fuse_ohm(rating_a: float) -> float:
    """Cold resistance [Ω] of a fuse of `rating_a` [A, above 0].

    Ratings between and beyond the table follow it on a log-log line, near R ~ rating^-1.2.
    Source: typical blade fuse data sheets (from memory), ±15 %.
    """
    ratings = sorted(BLADE_FUSE_MOHM)
    if rating_a in BLADE_FUSE_MOHM:
        return BLADE_FUSE_MOHM[rating_a] / 1000
    place = min(max(bisect_left(ratings, rating_a), 1), len(ratings) - 1)
    low, high = ratings[place - 1], ratings[place]
    slope = log(BLADE_FUSE_MOHM[high] / BLADE_FUSE_MOHM[low]) / log(high / low)
    return exp(log(BLADE_FUSE_MOHM[low]) + slope * log(rating_a / low)) / 1000
