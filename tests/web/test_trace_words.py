"""Words and marks of captures."""

from dataclasses import replace

import pytest

from iron_probe.core.bench.drain.sleep_record import Wake, sleep_of
from iron_probe.core.trace.steps import find_steps
from iron_probe.web import trace_words


@pytest.mark.parametrize(("step_s", "said"), [(10.0, "one every 10 s"), (0.1, "10 Hz"), (2e-5, "50 kHz")])
def test_samples_are_said_by_the_second_or_by_their_step(step_s: float, said: str) -> None:
    assert trace_words.rate(step_s) == said


def test_no_trace_has_no_marks() -> None:
    assert trace_words.marks_of(None) == []


def test_a_sleep_record_is_marked_where_it_slept_and_woke() -> None:
    wake = Wake(start_s=300.0, lasts_s=60.0, mean_a=2.0, cost_ah=0.03)
    stairs = find_steps([4.0] * 50 + [0.03] * 200, 1.0)
    record = replace(sleep_of(stairs, 0.05), asleep_after_s=50.0, wakes=(wake,), awake_since_s=None)
    assert trace_words.sleep_marks(record, 10.0) == [
        {"name": "asleep", "start_s": 60.0, "end_s": 60.0},
        {"name": "wake", "start_s": 310.0, "end_s": 370.0},
    ]
