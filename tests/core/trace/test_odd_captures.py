"""Files that are no clean record: each ends in samples or in a clear word."""

import pytest

from iron_probe.core.errors import CaptureError
from iron_probe.core.trace.columns import read_samples
from iron_probe.core.trace.layout import guess_layout

GOOD = "time (s),current (A)\n" + "".join(f"{k / 1000:.3f},{k % 7}\n" for k in range(300))


@pytest.mark.parametrize("data", [GOOD.encode("utf-16"), GOOD.encode("utf-8-sig"), GOOD.replace("time", "ti\x00me").encode()])
def test_marks_and_nulls_are_no_part_of_the_text(data: bytes) -> None:
    layout = guess_layout(data[:4000]).layout
    assert read_samples([data[:1001], data[1001:]], layout).count == 300


def test_text_in_a_numeric_column_is_an_odd_line() -> None:
    data = b"a (A),b (V)\n" + b"1,2\n2,3\nx,4\n3,4\n" * 30
    assert guess_layout(data).layout.columns == 2
    rare = b"a (A),b (V)\n" + b"1,2\n" * 60 + b"x,4\n" + b"3,4\n" * 20
    assert [o.why for o in read_samples([rare], guess_layout(rare).layout).odd] == ["a cell is not a number"]


def test_a_bad_clock_late_in_a_file_is_an_odd_line() -> None:
    lines = b"".join(b"12:%02d:%02d,2\n" % (k // 60, k % 60) for k in range(300))
    data = b"time,a (A)\n" + lines + b"xx,2\n" + b"12:05:00,3\n"
    found = read_samples([data], guess_layout(data[:2000]).layout)
    assert (found.count, found.odd_count) == (301, 1)


@pytest.mark.parametrize("power", ["e-300", "e300"])
def test_steps_no_logger_takes_are_told(power: str) -> None:
    data = b"time (s),a (A)\n" + b"".join(b"%d%s,2\n" % (k, power.encode()) for k in range(50))
    with pytest.raises(CaptureError, match="come from no scope or logger"):
        read_samples([data], guess_layout(data).layout)
