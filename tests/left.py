"""What is left after some readings, made up for tests of what is said of it."""

import numpy as np

from iron_probe.core.diagnose.posterior import Posterior


def left_of(**more: object) -> Posterior:
    """Nothing left and nothing found, but for what is said otherwise."""
    given: dict[str, object] = {
        "suspects": (), "eliminated": (), "no_fault": 0.0, "off_sheet": 0.0, "unexplained": (), "contradictory": (), "found": None, "pair": None,
        "weights": np.ones(1),
    }  # fmt: skip
    return Posterior(**{**given, **more})  # type: ignore[arg-type]
