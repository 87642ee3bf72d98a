"""Capture files as scopes and loggers write them: separators, decimal signs, headers, units, clocks, odd lines."""

import numpy as np
import pytest

from iron_probe.core.errors import CaptureError
from iron_probe.core.trace.columns import Samples, read_samples
from iron_probe.core.trace.layout import Channel, Layout, Role, guess_layout
from iron_probe.core.trace.pyramid import FACTOR, build_pyramid, columns_of, level_for


def read(text: str, **changed: object) -> Samples:
    data = text.encode()
    layout = guess_layout(data).layout.model_copy(update=changed)
    return read_samples([data[k : k + 37] for k in range(0, len(data), 37)], layout)


PLAIN = "Time,Clamp,Volts\n(s),(A),(V)\n" + "".join(f"{k / 1000:.3f},{100 + k},{12 - k / 100:.2f}\n" for k in range(20))


@pytest.mark.parametrize(
    ("text", "delimiter", "decimal", "time", "step"),
    [
        (PLAIN, ",", ".", "seconds", 0.001),
        (PLAIN.replace(",", ";").replace(".", ","), ";", ",", "seconds", 0.001),
        (PLAIN.replace(",", "\t"), "\t", ".", "seconds", 0.001),
        (PLAIN.replace("(s)", "(ms)"), ",", ".", "milliseconds", 0.000001),
        ("# scope export\r\n# 3 channels\r\n" + PLAIN.replace("\n", "\r\n"), ",", ".", "seconds", 0.001),
        ("".join(f"{k / 1000:.3f} {100 + k} {12 - k / 100:.2f}\n" for k in range(20)), " ", ".", "seconds", 0.001),
        (
            "t;I [A];U [V]\n" + "".join(f"12:00:0{k // 10}.{k % 10};{100 + k};{12 - k / 100:.2f}\n" for k in range(20)),
            ";",
            ".",
            "clock",
            0.1,
        ),
    ],
)
def test_layouts_are_guessed(text: str, delimiter: str, decimal: str, time: str, step: float) -> None:
    layout = guess_layout(text.encode()).layout
    assert (layout.delimiter, layout.decimal, layout.time) == (delimiter, decimal, time)
    samples = read(text)
    assert samples.count == 20
    assert samples.odd_count == 0
    assert samples.step_s == pytest.approx(step)
    assert samples.data[0][-1] == pytest.approx(119)
    assert samples.data[1][-1] == pytest.approx(11.81)


def test_roles_and_units_are_guessed() -> None:
    text = "Time (ms),Clamp (mV),Lead drop (mV),Posts (V)\n0,1500,210,11.9\n1,1510,220,11.8\n2,1490,215,11.7\n"
    roles = [(c.role, c.scale) for c in guess_layout(text.encode()).layout.channels]
    assert roles == [(Role.AMPS, pytest.approx(0.1)), (Role.DROP, pytest.approx(1e-3)), (Role.VOLTS, 1.0)]


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


def test_a_layout_must_hold_together() -> None:
    with pytest.raises(ValueError, match="same column"):
        Layout(columns=3, channels=(Channel(column=1, name="a"), Channel(column=1, name="b")))
    with pytest.raises(ValueError, match="sample rate"):
        Layout(columns=1, time="rate", time_column=None)
    with pytest.raises(CaptureError, match="No column is taken"):
        read_samples([b"0,1\n1,2\n"], Layout(columns=2))


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
