"""Typed points as a record."""

import pytest

from iron_probe.core.errors import CaptureError
from iron_probe.core.trace.steps import even_record, find_steps


def test_typed_points_become_a_record_and_bad_ones_are_told() -> None:
    record, step = even_record([0, 60, 120, 600, 1500], [1.8, 0.9, 0.4, 0.4, 0.025])
    assert step == 60
    assert [round(v, 3) for v in record[[0, 1, 2, 9, 24, 25]]] == [1.8, 0.9, 0.4, 0.4, 0.4, 0.025]
    with pytest.raises(CaptureError, match="Times must rise"):
        even_record([0, 5, 5, 9], [1, 1, 1, 1])
    with pytest.raises(CaptureError, match="Four points"):
        even_record([0, 5], [1, 1])
    with pytest.raises(CaptureError, match="no number"):
        find_steps([1.0, float("nan"), 1.0, 1.0], 1.0)
