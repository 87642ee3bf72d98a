"""Information against enumeration."""

import numpy as np
import pytest
from scipy.stats import entropy

from iron_probe.core.diagnose.outcomes import halving_bits, information_bits


def test_gain_equals_enumeration() -> None:
    """Mutual information by scipy.stats.entropy over the whole joint table, on toy cases with known outcomes."""
    rng = np.random.default_rng(3)
    labels = rng.integers(0, 5, 400)
    outcomes = np.stack([labels % 2, rng.integers(-3, 4, 400), labels * 7 - 9, np.zeros(400, dtype=int)]).astype(np.int32)
    for row, found in zip(outcomes, information_bits(outcomes, labels), strict=True):
        table = np.zeros((5, 64))
        for a, b in zip(labels, row, strict=True):
            table[a, b + 20] += 1 / 400
        expected = entropy(table.sum(0), base=2) + entropy(table.sum(1), base=2) - entropy(table.ravel(), base=2)
        assert found == pytest.approx(expected, abs=1e-9)


def test_halving_is_best_at_half() -> None:
    labels = np.repeat(np.arange(8), 10)
    good = np.stack([labels < k for k in range(1, 8)])
    bits = halving_bits(good, labels)
    assert bits.argmax() == 3
    assert bits[3] == pytest.approx(1.0, abs=1e-9)
