"""A new fuse fitted once: it holds where only the old one was at fault."""

import numpy as np
import pytest

from iron_probe.core.circuit.network import network_of
from iron_probe.core.diagnose.case import Case
from iron_probe.core.diagnose.ensemble import Ensemble
from iron_probe.core.diagnose.evidence import FUSE_WORDS, Instrument, Reading, check_reading
from iron_probe.core.diagnose.new_fuse import HELD, blown_in, holds, telling_states
from iron_probe.core.diagnose.next_test import next_tests
from iron_probe.core.diagnose.test_book import TestBook
from iron_probe.core.errors import ReadingError
from iron_probe.core.solve.operate import solve_as_drawn
from iron_probe.machines import load_sheet

MOWER = Ensemble(load_sheet("green-mower"))
DEAD = [
    Reading(instrument=Instrument.EYES, state="crank", word="nothing"),
    Reading(red="sol.in", black="f1.out", state="crank", value=12.5),
    Reading(red="f1.out", black="bat.minus", state="crank", value=0.0),
]


def new(word: str) -> Reading:
    return Reading(instrument=Instrument.NEW_FUSE, branch="f1", state="crank", word=word)


def test_it_blows_where_a_drawn_short_has_blown_the_old_one_and_holds_elsewhere() -> None:
    held = holds(MOWER.network, MOWER.hypotheses, "f1", "crank", 1)
    shorted = [k for k, h in enumerate(MOWER.hypotheses) if any(m.opened == "f1" for m in h.modes)]
    assert shorted and not held[shorted].any() and held.sum() == len(held) - len(shorted)
    np.testing.assert_allclose(HELD.sum(axis=1), 1)
    assert HELD.shape == (2, len(FUSE_WORDS))


def test_what_is_switched_off_blows_none_and_the_state_that_tells_most_is_asked_for() -> None:
    ensemble = Ensemble(load_sheet("piste-sled"))
    network = ensemble.network
    states = telling_states(network, ensemble.modes, "f1", ensemble.states)
    behind = tuple(m for m in ensemble.modes if m.opened == "f1")
    told = {s: sum(blown_in(network, behind, "f1", s)) for s in ensemble.states}
    assert told["rest"] < max(told.values()) and all(told[s] == max(told.values()) for s in states)
    carried = {s: float(solve_as_drawn(network, s).current("f1")[0]) for s in ("run", "crank")}
    assert told["run"] == told["crank"] and carried["run"] < 0.9 * carried["crank"]  # all that it feeds is tried, drawn or not
    assert states == ("crank",)


def test_one_that_blows_accuses_what_is_behind_it_and_one_that_holds_the_old_one() -> None:
    case = Case(MOWER)
    before, blew, held = (case.posterior([*DEAD, *more]) for more in ([], [new("blows")], [new("holds")]))
    assert held.share("f1") > before.share("f1") > 5 * blew.share("f1")


def test_nobody_is_sent_to_risk_one_before_the_fuse_leads_and_a_lamp_was_across_it() -> None:
    case, book = Case(MOWER), TestBook(MOWER)
    asked = next_tests(case, book, case.posterior(DEAD), DEAD, most=40)
    assert all(t.reading.instrument is not Instrument.NEW_FUSE for t in asked)


def test_it_is_fitted_in_place_of_a_fuse_only() -> None:
    with pytest.raises(ReadingError, match="in place of a fuse"):
        check_reading(new("holds").model_copy(update={"branch": "starter"}), network_of(MOWER.sheet))
