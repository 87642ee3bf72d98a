"""How much a reading weighs."""

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from tests.core.diagnose.mower import Hidden, heard, volts


def test_disturbed_and_told_readings_weigh_less(case: Case, bolt: Hidden) -> None:
    base = [heard("slow"), bolt.volts("bat.plus", "bat.minus")]
    drop = bolt.volts("frame", "frame.eye")
    plain, moved, told = (
        case.posterior([*base, drop.model_copy(update=u)]).share("frame-bolt") for u in ({}, {"disturbed": True}, {"told": True})
    )
    assert plain > moved > told


def test_over_range_is_a_lower_bound_and_under_the_digit_an_interval(case: Case) -> None:
    open_path = case.posterior([heard("click"), volts("block", "frame", 6.0, bound=Bound.AT_LEAST)])
    assert open_path.suspects[0].element == "engine-mount"
    small = case.posterior([heard("slow"), volts("frame", "frame.eye", 0.02, bound=Bound.AT_MOST)])
    assert small.share("frame-bolt") < 0.02


def test_a_lamp_loads_a_corroded_feed_that_a_meter_calls_good(ensemble: Ensemble, case: Case) -> None:
    """12 V on the meter at rest, and a 4 A lamp that stays dark: resistance in the feed, not an open."""
    lamp = Reading(instrument=Instrument.LAMP_LARGE, red="f1.out", black="bat.minus", state="rest", word="off")
    before = lamp.model_copy(update={"red": "sol.in", "word": "bright"})
    p = case.posterior([heard("nothing"), volts("f1.out", "bat.minus", 12.5, "rest"), before, lamp])
    assert p.suspects[0].element == "f1"
    assert p.suspects[0].mode == "high_resistance"
