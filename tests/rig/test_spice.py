import pytest

from iron_probe.rig.errors import RigError
from iron_probe.rig.spice import Spice


def test_a_divider(spice: Spice) -> None:
    found = spice.operating_point(["V1 n1 0 12", "R1 n1 n2 1", "R2 n2 0 3"])
    assert found["n2"] == pytest.approx(9)
    assert found["v1#branch"] == pytest.approx(-3)


def test_one_circuit_leaves_nothing_to_the_next(spice: Spice) -> None:
    spice.operating_point(["V1 n1 0 12", "R1 n1 n2 1", "R2 n2 0 3"])
    assert "n2" not in spice.operating_point(["V1 n1 0 6", "R1 n1 0 3"])


def test_what_has_no_answer_is_refused(spice: Spice) -> None:
    with pytest.raises(RigError, match="no operating point"):
        spice.operating_point(["V1 n1 0 12", "V2 n1 0 6", "R1 n1 n2 1"])
    assert spice.operating_point(["V1 n1 0 6", "R1 n1 0 3"])["n1"] == pytest.approx(6)


def test_a_capacitor_charges(spice: Spice) -> None:
    rows = spice.trace(["V1 n1 0 10", "R1 n1 n2 1000", "C1 n2 0 1e-6 ic=0"], ["V(n2)"], 1e-5, 3e-3)
    after_one = rows[abs(rows[:, 0] - 1e-3).argmin()]
    assert after_one[1] == pytest.approx(6.32, abs=0.05)


def test_a_program_that_does_not_answer_is_ended_and_says_so(monkeypatch: pytest.MonkeyPatch) -> None:
    with Spice() as spice:
        monkeypatch.setattr("iron_probe.rig.spice.ANSWERS_WITHIN_S", 0.2)
        with pytest.raises(RigError, match="did not answer"):
            spice.trace(["V1 n1 0 10", "R1 n1 0 1000"], ["V(n1)"], 1e-9, 1e3)


def test_a_program_that_was_killed_says_so() -> None:
    spice = Spice()
    spice._process.kill()
    spice._process.wait()
    with pytest.raises(RigError, match="ngspice ended"):
        spice.operating_point(["V1 n1 0 6", "R1 n1 0 3"])
    spice.close()
