"""The shipped drain records are made anew to the letter, and read as what they tell."""

from iron_probe.core.trace.columns import read_samples
from iron_probe.core.trace.layout import guess_layout
from iron_probe.demo.drain_captures import RECORDS, lamp_fuse, night


def test_each_record_is_the_same_each_time_and_its_layout_is_guessed() -> None:
    for make in (night, lamp_fuse):
        text = make()
        assert text == make()
        layout = guess_layout(text[:60_000].encode()).layout
        samples = read_samples([text.encode()], layout)
        assert samples.count > 1000 and samples.odd_count <= 1  # one line is broken, as loggers leave them
    assert len(RECORDS) >= 2
