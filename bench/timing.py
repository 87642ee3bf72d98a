"""Timing helpers."""

import time
from collections.abc import Callable

import numpy as np


def median_s(work: Callable[[], object], repeats: int) -> float:
    """Median time [s] of `repeats` runs, after one to warm up."""
    work()
    taken = []
    for _ in range(repeats):
        start = time.perf_counter()
        work()
        taken.append(time.perf_counter() - start)
    return float(np.median(taken))


def percentiles_ms(seconds: list[float]) -> tuple[float, float]:
    """p50 and p95 [ms]."""
    p50, p95 = np.percentile(seconds, (50, 95)) * 1000
    return float(p50), float(p95)
