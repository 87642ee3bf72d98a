"""Least and greatest at every scale."""

import numpy as np

from iron_probe.core.trace.pyramid import FACTOR, build_pyramid, columns_of, level_for


def test_the_pyramid_keeps_every_least_and_greatest() -> None:
    data = np.random.default_rng(1).standard_normal(100_003).astype(np.float32)
    for level in build_pyramid(data):
        for k in (0, len(level.low) // 2, len(level.low) - 1):
            stretch = data[k * level.span : (k + 1) * level.span]
            assert (level.low[k], level.high[k]) == (stretch.min(), stretch.max())
    assert level_for(100_000, 1000) == FACTOR
    assert level_for(900, 1000) == 1
    low, high = columns_of(data, data, 700)
    assert len(low) == 700
    assert (low.min(), high.max()) == (data.min(), data.max())
