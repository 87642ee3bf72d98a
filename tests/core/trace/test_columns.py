"""Capture files as scopes and loggers write them: separators, decimal signs, headers, units, clocks, odd lines."""

import numpy as np
import pytest

from iron_probe.core.errors import CaptureError
from iron_probe.core.trace.layout import guess_layout
from tests.core.trace.texts import read


def test_no_time_column_takes_the_sample_rate() -> None:
    text = "Current (A)\n" + "\n".join(str(v) for v in (3, 150, 149, 152, 2, 1)) + "\n"
    layout = guess_layout(text.encode()).layout
    assert layout.time == "rate"
    assert read(text, rate_hz=50.0).step_s == pytest.approx(0.02)


def test_odd_lines_are_counted_and_listed_and_the_rest_is_kept() -> None:
    lines = [f"{k / 1000:.3f},{100 + k},{12:.2f}" for k in range(400)]
    lines[7] = "oops"
    lines[50] = "0.050,--,12.0"
    lines[51] = ""
    lines[300] = "0.300,1e999,12"
    samples = read("Time,Clamp,Volts\n(s),(A),(V)\n" + "\n".join(lines) + "\n")
    assert (samples.count, samples.odd_count) == (396, 4)
    assert [(o.line, o.text) for o in samples.odd] == [(10, "oops"), (53, "0.050,--,12.0"), (54, ""), (303, "0.300,1e999,12")]
    assert "1 columns where 3" in samples.odd[0].why


def test_an_inverted_clamp_is_turned() -> None:
    text = "Time,Clamp\n(s),(A)\n" + "".join(f"{k / 100:.2f},{-180 if 10 < k < 90 else 0.5}\n" for k in range(100))
    samples = read(text)
    assert samples.turned == (True,)
    assert samples.data[0].max() == 180


def test_an_uneven_record_is_put_on_a_grid() -> None:
    times = np.cumsum(np.random.default_rng(2).uniform(0.2, 1.8, 200))
    samples = read("Time,Volts\n(s),(V)\n" + "".join(f"{t:.4f},{10 + t / 100:.5f}\n" for t in times))
    assert samples.uneven
    grid = samples.start_s + samples.step_s * np.arange(samples.count)
    assert samples.data[0] == pytest.approx(10 + grid / 100, abs=1e-3)


def test_a_clock_runs_on_past_midnight() -> None:
    stamps = [f"23:59:{s:02d}" for s in range(50, 60)] + [f"00:00:{s:02d}" for s in range(10)]
    samples = read("at,Volts (V)\n" + "".join(f"{t},12.{k:02d}\n" for k, t in enumerate(stamps)))
    assert samples.step_s == pytest.approx(1.0)
    assert samples.count == 20


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("", "empty"),
        ("no numbers here\nnor here\n", "No line of numbers"),
        ("t,A\n0,1\n1,2\n0.5,3\n", "runs backwards"),
        ("Time,A\n1,1\n1,2\n1,3\n", "same time"),
        ("Time,A\n0,1\n1,2\n" + "x,y\n" * 50, "do not fit the layout"),
    ],
)
def test_what_cannot_be_read_says_why(text: str, told: str) -> None:
    with pytest.raises(CaptureError, match=told):
        read(text)
