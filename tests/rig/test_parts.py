from math import isinf

import numpy as np
import pytest

from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.rig.parts import HOT, oil_factor, reach, sound_machine


@pytest.mark.parametrize("sheet_id", sheet_ids())
def test_every_element_of_every_sheet_has_values(sheet_id: str) -> None:
    sheet = load_sheet(sheet_id)
    values = sound_machine(sheet, 20.0, np.random.default_rng(1))
    assert values.keys() == {e.id for e in sheet.elements}
    assert all(v > 0 or isinf(v) for one in values.values() for k, v in one.items() if k.endswith("ohm") and k != "thread_ohm")


def test_cold_oil_asks_more_of_a_diesel() -> None:
    petrol, diesel = load_sheet("pool-car"), load_sheet("crew-minibus")
    assert 1.6 <= oil_factor(petrol, -20) < oil_factor(diesel, -20) <= 2.2


def test_a_coil_is_of_copper() -> None:
    sheet = load_sheet("pool-car")
    cold, warm = (sound_machine(sheet, t, None)["start-relay"]["coil_ohm"] for t in (-20.0, 80.0))
    assert warm / cold == pytest.approx(1.46, abs=0.02)


def test_idle_gives_about_half_of_the_rating_hot() -> None:
    assert 0.45 <= HOT * reach(400, 800) <= 0.61
    assert reach(550, 500) == 0
