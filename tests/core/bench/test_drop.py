"""The drop log: judging, reconciling, halving, and the margin in the cold."""

import pytest

from iron_probe.core.bench.drop import DropVerdict
from iron_probe.core.circuit.sheet import Sheet
from tests.core.bench.drops import board, reading


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
