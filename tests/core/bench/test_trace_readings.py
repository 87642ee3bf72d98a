"""A crank trace as readings."""

import numpy as np
import pytest

from iron_probe.core.bench.cranking import CrankedEngine, analyse
from iron_probe.core.bench.trace_readings import crank_readings
from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.errors import CaptureError
from iron_probe.core.trace.layout import Role
from iron_probe.machines import load_sheet
from tests.core.bench.stories import STEP_S, story


def test_a_trace_becomes_readings() -> None:
    sheet = load_sheet("crew-minibus")
    roles, data = story("sound")
    trace = analyse(STEP_S, [*roles, Role.DROP], [*data, (data[0] * 0.002).astype(np.float32)], CrankedEngine(cylinders=4))
    readings = crank_readings(trace, sheet, "bat.plus", "starter.B")
    assert [r.instrument for r in readings] == [Instrument.CLAMP, Instrument.VOLTMETER, Instrument.VOLTMETER, Instrument.EYES]
    assert readings[2].value == pytest.approx(0.002 * trace.mean_a, rel=0.02)
    with pytest.raises(CaptureError, match="name where red"):
        crank_readings(trace, sheet)
