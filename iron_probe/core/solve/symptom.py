"""What the technician sees and hears in a solved state."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from iron_probe.core.circuit.elements import Starter
from iron_probe.core.circuit.network import Network
from iron_probe.core.solve.solution import Solution, Symptom

SYMPTOMS = tuple(Symptom)
"""Order of the codes that `symptom_codes` returns."""


@lru_cache(maxsize=512)
def _starters(network: Network) -> tuple[tuple[int, Starter], ...]:
    """Starters with the number of their branch."""
    return tuple((n, o) for n, o in enumerate(network.owners) if isinstance(o, Starter))


def symptom_codes(solution: Solution) -> NDArray[np.int64]:
    """Symptom of every variant (V,), as its place in SYMPTOMS.

    Chatter before all; then by starter speed; a starter with current that stands still is NO_TURN; a coil that
    pulled in without current to the starter is a CLICK.
    """
    starters = _starters(solution.network)
    slow_below = starters[0][1].slow_below if starters else 0.0
    flowing = np.zeros(solution.chatter.shape, dtype=bool)
    for number, starter in starters:
        flowing |= solution.amps[number] > 0.25 * starter.load_a
    clicked = solution.pulled_in.any(axis=0)
    conditions = [
        solution.chatter,
        solution.turning >= slow_below if starters else flowing,
        solution.turning > 0,
        flowing,
        clicked,
    ]
    order = [Symptom.CHATTER, Symptom.CRANKS, Symptom.SLOW, Symptom.NO_TURN, Symptom.CLICK]
    codes = [SYMPTOMS.index(s) for s in order]
    return np.select(conditions, codes, default=SYMPTOMS.index(Symptom.NOTHING))
