"""Two faults at once: which of all pairs are worth solving."""

from collections.abc import Sequence

import numpy as np

from iron_probe.core.arrays import Bools, Floats
from iron_probe.core.diagnose.ensemble import Hypothesis

CANDIDATES, TRIED = 60, 21
"""So many single faults that explain most are weighed two by two, and so many pairs of them are solved."""
PRIOR_PART = 0.3
"""Weight of the log prior beside what a single explains, where candidates are looked for."""
HELPS = 0.5
"""A place is explained by a single that makes it so much likelier than a sound machine does, as a logarithm."""


def likely_pairs(hypotheses: Sequence[Hypothesis], single: Bools, per: Floats, prior: Floats) -> list[tuple[int, int]]:
    """The pairs of singles (numbers, at two elements, one with a severity first) that look most like explaining all places, the likeliest first.

    `single` (H,) are those that may be one of two; `per` (places, H) how much likelier each makes a place than a sound machine does, as a
    logarithm, and `prior` (H,) its own. What either of two explains is explained; what neither does is spoiled by the one that spoils it more.
    """
    may = np.flatnonzero(single & np.isfinite(prior))
    some = may[np.argsort(-(np.maximum(per[:, may], 0).sum(axis=0) + PRIOR_PART * prior[may]))[:CANDIDATES]]
    first, second = np.triu_indices(len(some), 1)
    one, other = per[:, some[first]], per[:, some[second]]
    most = np.maximum(one, other)
    score = np.where(most > HELPS, most, np.minimum(one, other)).sum(axis=0) + prior[some[first]] + prior[some[second]]
    ranked = ((int(some[first[k]]), int(some[second[k]])) for k in np.argsort(-score))
    apart = [(a, b) for a, b in ranked if hypotheses[a].elements != hypotheses[b].elements][:TRIED]
    return [(a, b) if hypotheses[a].graded else (b, a) for a, b in apart]
