"""How a part looks: a word of the eyes that leans toward a fault of its kind, and never proves one."""

from collections.abc import Sequence
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.arrays import Floats
from iron_probe.core.circuit.faults import FED_ELSEWHERE, OPEN, RESISTIVE_MODES, SHORT_MODES
from iron_probe.core.diagnose.ensemble import Hypothesis


class FaultKind(IntEnum):
    """What is wrong with a part, as far as eyes and fingers could tell."""

    NONE = 0
    WAY_LOST = 1
    SHORTED = 2
    OTHER = 3


LOOKED = np.array([
    [0.80, 0.07, 0.03, 0.02, 0.04, 0.04],
    [0.30, 0.25, 0.20, 0.10, 0.10, 0.05],
    [0.35, 0.05, 0.03, 0.22, 0.10, 0.25],
    [0.62, 0.08, 0.04, 0.12, 0.10, 0.04],
])  # fmt: skip
"""Chance of each word (columns) of a part by what is wrong with it (rows, by FaultKind): most joints that lose volts look no different, and some
that look bad lose none (common practice, no source)."""


def fault_kinds(hypotheses: Sequence[Hypothesis], element: str) -> NDArray[np.int64]:
    """What each hypothesis says is wrong with a part, as numbers of FaultKind."""
    return np.array(
        [max((_kind(m.name) for m in h.modes if m.element == element), default=FaultKind.NONE) for h in hypotheses], dtype=np.int64
    )


def looked_for(hypotheses: Sequence[Hypothesis], element: str, variants: int) -> Floats:
    """The same for every variant, so many of each hypothesis."""
    return np.repeat(fault_kinds(hypotheses, element), variants).astype(float)


def _kind(mode: str) -> FaultKind:
    if mode in RESISTIVE_MODES or mode == OPEN:
        return FaultKind.WAY_LOST
    return FaultKind.SHORTED if mode in SHORT_MODES or mode == FED_ELSEWHERE else FaultKind.OTHER
