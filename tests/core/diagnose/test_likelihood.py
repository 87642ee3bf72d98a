"""How much a reading weighs."""

import numpy as np

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.likelihood import Unsteady, fit_one
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


def test_a_figure_that_jumps_about_points_at_what_rattles(case: Case) -> None:
    """Ten volts at the posts: standing still it is a starter that draws, jumping about a battery that sags and comes back."""
    posts = volts("bat.plus", "bat.minus", 10.0)
    still, jumping, unsaid = (
        case.posterior([heard("chatter"), posts.model_copy(update={"unsteady": u})]).share("battery") for u in (False, True, None)
    )
    assert jumping > unsaid > still


def test_a_loose_wire_is_no_evidence_of_which_open_it_hangs_behind() -> None:
    prediction = fit_one(volts("a", "b", 2.1, "run"), [2.1], np.zeros(2), np.zeros(2), 12.0, Unsteady(loose=np.array([True, False])))
    ghost, joined = prediction.log
    assert ghost > joined + 2
    full = fit_one(volts("a", "b", 11.8, "run"), [11.8], np.zeros(1), np.zeros(1), 12.0, Unsteady(loose=np.array([True])))
    assert abs(float(full.log[0]) - float(ghost)) < 0.5  # nearly the source is as likely as two volts
