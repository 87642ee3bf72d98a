"""How much a reading weighs."""

import numpy as np
import pytest

from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.diagnose.likelihood import SLIP, Unsteady, fit_one, left_out_v, predict
from iron_probe.core.diagnose.prediction import Prediction
from iron_probe.core.solve.operate import solve_state
from iron_probe.core.solve.solution import Symptom
from iron_probe.core.solve.symptom import SYMPTOMS
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


def test_volts_near_the_source_are_held_to_what_the_drops_leave_of_it() -> None:
    """A tenth of a volt at the posts is told apart, half way down a whole one hardly is; where nothing is, as finely as the meter shows."""
    wide = left_out_v(np.array([0.0, 6.0, 12.0, 12.6, 16.6]), 12.0)
    assert wide[0] == 0 and wide[1] > 0.2 > wide[2] and wide[2] < wide[3] < wide[4]
    assert left_out_v(np.array([24.0]), 24.0) == pytest.approx(2 * wide[2])


def test_of_figures_that_disagree_each_is_explained_or_a_slip() -> None:
    reading = volts("a", "b", 1.0, "run")
    both = fit_one(reading, [1.0, 8.0], np.array([1.0, 8.0, 4.0]), np.zeros(3), 12.0)
    one, other, neither = both.log
    alone = fit_one(reading, [1.0], np.array([1.0]), np.zeros(1), 12.0)
    assert both.figures == 2 and alone.figures == 1
    assert abs(float(one - other)) < 2.5 and neither < min(one, other) - 3
    assert float(alone.log[0] - one) == pytest.approx(-np.log(SLIP / (2.2 * 12)), abs=0.2)


def test_a_word_said_twice_is_no_slip_and_one_nobody_would_mistake_is_one() -> None:
    word = heard("chatter", "rest")
    silent = np.array([float(SYMPTOMS.index(Symptom.NOTHING)), float(SYMPTOMS.index(Symptom.CHATTER))])
    once, twice = (fit_one(word, [], silent, np.zeros(2), 12.0, again=again) for again in (False, True))
    assert twice.log[0] < once.log[0] - 0.5 and twice.log[1] == pytest.approx(once.log[1], abs=0.1)
    assert once.slip[0] == 1.0 and once.slip[1] < 0.02


def test_a_load_that_has_volts_and_draws_nothing_does_nothing(ensemble: Ensemble) -> None:
    broken = Hidden(ensemble.network, ensemble, "fuel-solenoid", "open")
    look = Reading(instrument=Instrument.FUNCTION, branch="fuel-solenoid", state="run", word="works")
    sound = predict(look, ensemble.network, Prediction.of(solve_state(ensemble.network, "run")))
    assert sound[0] == 2
    assert predict(look, ensemble.network, Prediction.of(broken.solved["run"]))[0] == 0
