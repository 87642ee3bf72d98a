"""Captures read from text."""

from iron_probe.core.trace.columns import Samples, read_samples
from iron_probe.core.trace.layout import guess_layout


def read(text: str, **changed: object) -> Samples:
    data = text.encode()
    layout = guess_layout(data).layout.model_copy(update=changed)
    return read_samples([data[k : k + 37] for k in range(0, len(data), 37)], layout)
