"""What is heard and seen from the seat is what the rig's machine does."""

import numpy as np

from iron_probe.bay.cabin import cabin_of
from iron_probe.bay.case import bay_with
from iron_probe.bay.in_bay import InBay
from iron_probe.machines import load_sheet
from iron_probe.rig.build import peaks_of
from iron_probe.rig.plant import Heard
from iron_probe.rig.spice import Spice


def test_a_sound_machine_cranks_and_its_lamps_dim_in_it(spice: Spice) -> None:
    sheet = load_sheet("crew-minibus")
    bay = InBay(sheet, 1, peaks_of(sheet, spice, list(sheet.states)), spice, [])
    rest, lamps, crank = (cabin_of(bay, state) for state in ("rest", "lamps", "lampcrank"))
    share = {cabin.state: {g.title: g.share for g in cabin.glows}["Headlamps"] for cabin in (rest, lamps, crank)}
    assert (rest.heard, crank.heard) == (Heard.NOTHING, Heard.CRANKS) and rest.speed == 0 and 0.7 < crank.speed < 1.4
    assert share["rest"] < 0.01 and share["lamps"] > share["lampcrank"] > 0.5


def test_turning_the_key_is_an_attempt(spice: Spice) -> None:
    bay = bay_with(load_sheet("training-kart"), "battery flat", np.random.default_rng(2), 2, spice)
    assert bay is not None
    before = bay.reader.attempts
    seen = cabin_of(bay, bay.sheet.cranking_state() or "")
    assert bay.reader.attempts == before + 1 and seen.heard.value == bay.complained
