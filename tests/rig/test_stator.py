from math import inf

import pytest

from iron_probe.core.circuit.elements import Stator
from iron_probe.rig.stator import ac_volts, pair_ohm


def stator(joined: str) -> Stator:
    star = {"star": "s"} if joined == "star" else {}
    return Stator.model_validate(
        {"id": "st", "type": "stator", "title": "Stator", "p1": "a", "p2": "b", "p3": "c", "case": "g", "joined": joined} | star
    )


def values(**changed: float) -> dict[str, float]:
    return {"w1_ohm": 0.3, "w2_ohm": 0.3, "w3_ohm": 0.3, "earth_ohm": inf, "e1": 1.0, "e2": 1.0, "e3": 1.0, "pair_v": 15.0} | changed


def test_star_pairs_are_two_windings_and_delta_pairs_two_thirds_of_one() -> None:
    assert pair_ohm(stator("star"), values(), "a", "b") == pytest.approx(0.6)
    assert pair_ohm(stator("delta"), values(), "a", "b") == pytest.approx(0.2)


def test_an_open_phase_in_star_shows_on_two_pairs() -> None:
    broken = values(w1_ohm=inf)
    assert pair_ohm(stator("star"), broken, "a", "b") > 1e6
    assert pair_ohm(stator("star"), broken, "b", "c") == pytest.approx(0.6)
    assert ac_volts(stator("star"), broken, "a", "b", 2000) < 0.2 * ac_volts(stator("star"), broken, "b", "c", 2000)


def test_unloaded_delta_with_an_open_winding_looks_equal() -> None:
    broken = values(w1_ohm=inf)
    shown = [ac_volts(stator("delta"), broken, *pair, 2000) for pair in (("a", "b"), ("b", "c"), ("c", "a"))]
    assert max(shown) == pytest.approx(min(shown), rel=0.02)
    assert shown[0] == pytest.approx(30.0, rel=0.02)
