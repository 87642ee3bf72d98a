"""How long a battery lasts, and which draw explains how long it lasted."""

import numpy as np
import pytest

from iron_probe.core.bench.battery.endurance import draw_that_explains, endurance, explains, no_start_charge
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet


def test_days_to_no_start_and_its_inverse_agree() -> None:
    sheet = load_sheet("pool-car")
    answer = endurance(sheet, 0.25, charge=0.9, share_left=0.4, temp_degc=5)
    this_a, good_a = draw_that_explains(sheet, answer.hours, 0.9, 0.4, 5)
    assert this_a == pytest.approx(0.25, rel=0.03)
    assert good_a > 2 * this_a
    assert answer.curve[0][1] == pytest.approx(0.9)
    assert np.interp(answer.hours, *zip(*answer.curve, strict=True)) == pytest.approx(answer.no_start_charge, abs=0.01)
    assert no_start_charge(sheet, -15) > no_start_charge(sheet, 25) > 0.05
    with pytest.raises(ReadingError, match="above zero"):
        endurance(sheet, 0, 1, 1, 20)


def test_220_ma_empties_a_good_battery_in_days_and_one_with_a_tenth_left_in_a_night() -> None:
    """common practice, no source (CHECKS)."""
    sheet = load_sheet("crew-minibus")
    good = endurance(sheet, 0.22, 1.0, 1.0, 15)
    worn = endurance(sheet, 0.22, 1.0, 0.1, 15)
    assert 3 < good.hours / 24 < 25
    assert 6 < worn.hours < 48
    assert explains([worn.usable_ah, good.usable_ah], 0.22, worn.hours) == [True, False]
