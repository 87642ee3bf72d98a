"""Made cranking traces."""

import numpy as np

from iron_probe.core.trace.layout import Role
from iron_probe.demo.crank_captures import STORIES, traces

STEP_S = 1 / 2000


def story(name: str) -> tuple[list[Role], list[np.ndarray]]:
    _, amps, volts = traces(next(s for s in STORIES if name in s.name))
    return [Role.AMPS, Role.VOLTS], [amps.astype(np.float32), volts.astype(np.float32)]
