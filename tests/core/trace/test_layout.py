"""What the columns of a file are."""

import pytest

from iron_probe.core.errors import CaptureError
from iron_probe.core.trace.columns import read_samples
from iron_probe.core.trace.layout import Channel, Layout, Role, guess_layout
from tests.core.trace.texts import read

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


def test_a_layout_must_hold_together() -> None:
    with pytest.raises(ValueError, match="same column"):
        Layout(columns=3, channels=(Channel(column=1, name="a"), Channel(column=1, name="b")))
    with pytest.raises(ValueError, match="sample rate"):
        Layout(columns=1, time="rate", time_column=None)
    with pytest.raises(CaptureError, match="No column is taken"):
        read_samples([b"0,1\n1,2\n"], Layout(columns=2))
