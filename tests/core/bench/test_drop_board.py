"""The whole heavy path: parts against the whole, where to halve, what is left in the cold."""

import pytest

from iron_probe.core.bench.drop import DropReading
from iron_probe.core.circuit.network import build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.solve.operate import solve_state
from tests.core.bench.drops import board, reading


def test_parts_that_do_not_add_up_name_the_gap_and_the_cranks(minibus: Sheet) -> None:
    whole = reading(1, "bat.plus", "starter.B", 1.5, crank=1)
    part = reading(2, "bat.plus", "isolator.in", 0.07, crank=2)
    (found,) = board(minibus, whole, part).reconciled
    assert not found.agrees
    assert found.missing_v == pytest.approx(1.43)
    assert found.uncovered == (("isolator.in", "starter.B"),)
    assert "no part covered" in found.text
    assert "different cranks" in found.text


def test_parts_that_add_up_say_so(minibus: Sheet) -> None:
    parts = [reading(2, "bat.plus", "isolator.out", 1.3), reading(3, "isolator.out", "starter.B", 0.2)]
    (found,) = board(minibus, reading(1, "bat.plus", "starter.B", 1.5), *parts).reconciled
    assert found.agrees


@pytest.mark.parametrize(
    "culprit", ["plus-clamp", "isolator", "feed-lug", "starter-lug", "starter-mount", "strap-chassis", "ground-stud", "minus-clamp"]
)
def test_halving_reaches_the_joint_in_few_readings(minibus: Sheet, culprit: str) -> None:
    """Following the advice from nothing to the element: two whole sides, then halves."""
    network = build_network(minibus)
    values = network.nominal[:, None].copy()
    values[network.row[culprit, "r_ohm"], 0] += 0.004
    solved = solve_state(network, "crank", values)
    taken: list[DropReading] = []
    while (advice := board(minibus, *taken).next) is not None:
        volts = round(float(solved.between(advice.red, advice.black)[0]), 2)
        taken.append(reading(len(taken) + 1, advice.red, advice.black, volts))
        assert len(taken) <= 7
    done = board(minibus, *taken)
    assert [done.element_of(j) for j in done.culprits()] == [culprit]


def test_cold_margin_shrinks_with_the_measured_loss(minibus: Sheet) -> None:
    clean = board(minibus, cold_degc=-15)
    lossy = board(minibus, reading(1, "block", "strap.block", 1.6), cold_degc=-15)
    assert clean.cold.starts
    assert lossy.cold.speed < clean.cold.speed - 0.1
    assert board(minibus, reading(1, "block", "strap.block", 4.5), cold_degc=-25).cold.starts is False


def test_what_is_left_at_the_starter(minibus: Sheet) -> None:
    found = board(minibus, reading(1, "bat.plus", "starter.B", 1.44), reading(2, "starter.case", "bat.minus", 1.0), posts_v=12.6)
    assert found.left_v == pytest.approx(10.16)  # trade fact, CHECKS: about 10.2 of 12.6
