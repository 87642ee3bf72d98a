"""The drop log: judging, reconciling, halving, and the margin in the cold."""

import pytest

from iron_probe.core.bench.allowance import School, limits_for
from iron_probe.core.bench.drop import DropReading, DropVerdict
from iron_probe.core.bench.drop_board import DropBoard, drop_board
from iron_probe.core.bench.retest import Retest, compare
from iron_probe.core.circuit.elements import Conditions
from iron_probe.core.circuit.network import build_network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.solve.operate import solve_state


def reading(
    number: int, red: str, black: str, volts: float, *, loaded: bool = True, amps: float | None = None, crank: int = 1
) -> DropReading:
    return DropReading(number=number, red=red, black=black, drop_v=volts, loaded=loaded, amps=amps, crank=crank)


def board(sheet: Sheet, *readings: DropReading, posts_v: float | None = None, cold_degc: float = -10) -> DropBoard:
    return drop_board(sheet, readings, posts_v, School.COMMON, Conditions(), cold_degc)


def test_over_its_share_with_resistance_and_heat(minibus: Sheet) -> None:
    (j,) = board(minibus, reading(1, "block", "strap.block", 1.4, amps=150)).judged
    assert j.verdict is DropVerdict.OVER
    assert j.resistance_ohm == pytest.approx(1.4 / 150)
    assert j.heat_w == pytest.approx(210)
    assert j.share == pytest.approx(14)


def test_without_load_nothing_is_proven(minibus: Sheet) -> None:
    (j,) = board(minibus, reading(1, "bat.plus", "starter.B", 0.0, loaded=False)).judged
    assert j.verdict is DropVerdict.NO_LOAD
    assert "proves nothing" in j.why


def test_a_whole_side_without_any_drop_carries_no_current(minibus: Sheet) -> None:
    (j,) = board(minibus, reading(1, "bat.plus", "starter.B", 0.0)).judged
    assert j.verdict is DropVerdict.NO_CURRENT


def test_swapped_leads_are_turned_and_a_source_downstream_is_flagged(minibus: Sheet) -> None:
    turned, uphill = board(minibus, reading(1, "starter.B", "bat.plus", -0.3), reading(2, "starter.B", "bat.plus", 0.3)).judged
    assert turned.verdict is DropVerdict.WITHIN
    assert uphill.verdict is DropVerdict.UPHILL


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


def test_schools_differ_and_24_v_doubles(minibus: Sheet) -> None:
    common, tight = (limits_for(s, minibus) for s in (School.COMMON, School.TIGHT))
    assert tight.side_v < common.side_v
    assert limits_for(School.COMMON, minibus.model_copy(update={"system_v": 24})).side_v == 2 * common.side_v


def test_retest_against_a_band_asks_for_no_less() -> None:
    assert compare("a", "b", "fast", 12.4, 14.2, 14.8, 13.9).outcome is Retest.WITHIN
    assert compare("a", "b", "fast", 12.4, 13.2, 14.8, 13.9).outcome is Retest.STILL_OVER
    assert compare("a", "b", "fast", 14.2, 15.6, 14.8, 13.9).outcome is Retest.WORSE


@pytest.mark.parametrize(
    ("before", "after", "outcome"),
    [
        (0.8, 0.05, Retest.WITHIN),
        (0.8, 0.3, Retest.STILL_OVER),
        (0.8, 0.78, Retest.UNCHANGED),
        (0.8, 1.2, Retest.WORSE),
        (0.8, None, Retest.OPEN),
    ],
)
def test_retest(before: float, after: float | None, outcome: Retest) -> None:
    assert compare("a", "b", "crank", before, after, 0.1).outcome is outcome
