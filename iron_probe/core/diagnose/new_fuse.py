"""A new fuse of the same rating, fitted once: whether it holds says whether what blew the old one is still there, drawn or not."""

from collections.abc import Sequence

import numpy as np

from iron_probe.core.arrays import Floats
from iron_probe.core.diagnose.ensemble import Hypothesis

HELD = np.array([[0.9, 0.1], [0.01, 0.99]])
"""Chance of what a new fuse does (blows, holds; columns) where a drawn short has blown the old one, and where none has (rows): what is switched off
at that moment blows none (common practice)."""


def holds(hypotheses: Sequence[Hypothesis], fuse: str, variants: int) -> Floats:
    """Whether a new fuse would hold, 0 or 1, for every variant, so many of each hypothesis."""
    found = [float(all(m.opened != fuse for m in h.modes)) for h in hypotheses]
    return np.repeat(found, variants)
