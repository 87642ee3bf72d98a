"""What a crank trace is read as, on the shipped captures and on plain made-up currents."""

import numpy as np
import pytest

from iron_probe.core.bench.cranking import CrankedEngine, analyse, named_humps
from iron_probe.core.errors import CaptureError
from iron_probe.core.trace.layout import Role
from tests.core.bench.stories import STEP_S, story


def test_a_sound_crank() -> None:
    trace = analyse(STEP_S, *story("sound"), CrankedEngine(cylinders=4, expected_a=222, expected_rpm=215))
    assert trace.rpm == pytest.approx(215.5, rel=0.01)
    assert trace.mean_a == pytest.approx(221.6, rel=0.03)
    assert trace.supply_ohm == pytest.approx(0.003, rel=0.06)  # what the rig gave its battery
    assert trace.rest_v == pytest.approx(12.62, abs=0.02)
    assert (trace.start_s, trace.end_s) == (pytest.approx(0.6, abs=0.01), pytest.approx(3.9, abs=0.01))
    assert not any(h.weak for h in trace.humps)
    assert trace.dropouts == 0
    assert "turns as it should" in trace.words[0]


def test_a_weak_cylinder_is_named_by_firing_order_from_a_trigger() -> None:
    trace = analyse(STEP_S, *story("weak"), CrankedEngine(cylinders=4))
    (weak,) = [h for h in trace.humps if h.weak]
    assert weak.relative == pytest.approx(0.67, abs=0.05)
    period = 60 / (trace.rpm or 1) / 2
    top_of_weak = (trace.first_hump_s or 0) + (weak.place - 1) * period
    named = named_humps(trace, 4, 4, top_of_weak - 2 * period, [1, 3, 4, 2])  # two humps after cylinder 1 comes cylinder 4
    assert next(h.name for h in named if h.weak) == "cylinder 4"
    with pytest.raises(CaptureError, match="names each once"):
        named_humps(trace, 4, 4, 1.0, [1, 2, 3, 3])


def test_brushes_show_as_hash_and_dropouts() -> None:
    trace = analyse(STEP_S, *story("brushes"), CrankedEngine(cylinders=4, expected_a=254, expected_rpm=210))
    assert trace.dropouts == 2
    assert trace.hash_per_s > 20
    assert any("low current" in w for w in trace.words)


@pytest.mark.parametrize(("mean_a", "rpm", "word"), [(420, 110, "drags"), (120, 110, "resistance"), (210, 110, "ordinary current")])
def test_slow_is_explained_by_its_current(mean_a: float, rpm: float, word: str) -> None:
    time = np.arange(0, 4, STEP_S)
    amps = np.where(time > 0.5, mean_a * (1 + 0.25 * np.sin(2 * np.pi * rpm / 30 * time)), 0).astype(np.float32)
    trace = analyse(STEP_S, [Role.AMPS], [amps], CrankedEngine(cylinders=4, expected_a=215, expected_rpm=205))
    assert word in trace.words[0]
    assert trace.mean_v is None


def test_what_holds_no_crank_is_refused() -> None:
    flat = np.zeros(4000, dtype=np.float32)
    with pytest.raises(CaptureError, match="No crank is found"):
        analyse(STEP_S, [Role.AMPS], [flat], CrankedEngine(cylinders=4))
    with pytest.raises(CaptureError, match="needs a current channel"):
        analyse(STEP_S, [Role.VOLTS], [flat], CrankedEngine(cylinders=4))
