"""Stator pairs and the diode matrix."""

import pytest

from iron_probe.core.bench.judged import Verdict
from iron_probe.core.bench.stator import judge_matrix, judge_pair_ohms, judge_pair_volts, judge_unplugged, read_matrix
from iron_probe.core.circuit.elements import Stator
from iron_probe.core.errors import ReadingError


def test_stator_pairs() -> None:
    assert judge_pair_ohms([0.7, 0.72, 0.71], 0.2).verdict is Verdict.GOOD
    assert "phase 2 is open" in judge_pair_ohms([1e9, 1e9, 0.7], 0.2).text
    assert "1-2 is low" in judge_pair_ohms([0.4, 0.71, 0.7], 0.2).text
    assert judge_pair_volts([32, 31.5, 32.2], 2000, 16).verdict is Verdict.GOOD
    assert judge_pair_volts([20, 31.5, 32.2], 2000, 16).verdict is Verdict.BAD
    with pytest.raises(ReadingError, match="short the leads again"):
        judge_pair_ohms([0.2, 0.3, 0.3], 0.5)


def test_the_diode_matrix_names_the_diode_and_resists_swapped_leads() -> None:
    sound = {f"{w}{p}{rail}": v for p in "123" for rail in "+−" for w, v in (("f", "0.5"), ("r", "OL"))}
    assert judge_matrix(read_matrix(sound), False, 0.5).verdict is Verdict.GOOD
    shorted = {**sound, "f2+": "0.01", "r2+": "0.01"}
    told = judge_matrix(read_matrix(shorted), star_grounded=False, winding_ohm=0.5)
    assert "phase 2 to +: shorted" in told.text
    assert "drains nothing" in told.text
    assert "about 24 A" in judge_matrix(read_matrix(shorted), star_grounded=True, winding_ohm=0.5).text
    swapped = {**sound, **{f"f{p}+": "OL" for p in "123"}, **{f"r{p}+": "0.5" for p in "123"}}
    diodes = read_matrix(swapped)
    assert all(d.word.startswith("sound") for d in diodes)
    assert "swapped" in diodes[0].word
    assert "phase 3 to −: open" in judge_matrix(read_matrix({**sound, "f3−": "OL"}), False, 0.5).text
    with pytest.raises(ReadingError, match="is not a voltage"):
        read_matrix({"f1+": "beep"})


def test_equal_volts_do_not_clear_a_delta_alone() -> None:
    assert "ohms by pair tell" in judge_pair_volts([32, 31.5, 32.2], 2000, 16, "delta").text
    assert "ohms by pair" not in judge_pair_volts([32, 31.5, 32.2], 2000, 16, "star").text


def test_a_shorted_diode_drains_a_grounded_star_through_one_winding() -> None:
    stator = Stator.model_validate(
        {"id": "s", "type": "stator", "title": "Stator", "p1": "a", "p2": "b", "p3": "c", "star": "n", "case": "g", "star_grounded": True,
         "phase_mohm": 500}
    )  # fmt: skip
    _, judged = judge_unplugged(stator, {"f2+": "0.01", "r2+": "0.01"})
    assert "about 24 A" in dict(judged)["diodes"].text
