"""Words and marks of captures: what their channels are called, and what a chart of them marks."""

from typing import Any

from iron_probe.core.bench.cranking import CrankTrace
from iron_probe.core.bench.drain.sleep_record import SleepRecord
from iron_probe.core.trace.layout import UNIT_OF, Layout


def channel_names(layout: dict[str, Any]) -> list[str]:
    """Names of a kept capture's channels."""
    return [c.name for c in Layout.model_validate(layout).channels]


def units_of(layout: dict[str, Any]) -> list[str]:
    """Units of a kept capture's channels."""
    return channel_units(Layout.model_validate(layout))


def sleep_marks(record: SleepRecord, start_s: float) -> list[dict[str, str | float]]:
    """What the chart marks on a sleep record: when it fell asleep, and each wake."""
    spans = [("asleep", record.asleep_after_s, 0.0)] if record.asleep_after_s is not None else []
    spans += [("wake", w.start_s, w.lasts_s) for w in record.wakes[:60]]
    if record.awake_since_s is not None:
        spans.append(("awake", record.awake_since_s, record.length_s - record.awake_since_s))
    return [{"name": name, "start_s": start_s + at, "end_s": start_s + at + lasts} for name, at, lasts in spans]


def rate(step_s: float) -> str:
    """Samples a second, or the step where it is longer than a second."""
    hertz = 1 / step_s
    if hertz < 1:
        return f"one every {step_s:.3g} s"
    return f"{hertz / 1000:.4g} kHz" if hertz >= 1000 else f"{hertz:.4g} Hz"


def channel_units(layout: Layout) -> list[str]:
    """The unit of each channel of a capture."""
    return [UNIT_OF[c.role] for c in layout.channels]


def marks_of(trace: CrankTrace | None) -> list[dict[str, str | float]]:
    """The features of a trace as the chart marks them."""
    return [{"name": f.name, "start_s": f.start_s, "end_s": f.end_s} for f in trace.features] if trace else []
