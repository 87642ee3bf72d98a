import numpy as np
import pytest

from iron_probe.machines import load_sheet
from iron_probe.rig.build import machine_of
from iron_probe.rig.crank import BOUNCES, CrankRun, crank_trace
from iron_probe.rig.errors import RigError
from iron_probe.rig.plant import Plant
from iron_probe.rig.spice import Spice


def cranked(spice: Spice, sheet_id: str = "pool-car", compression: tuple[float, ...] | None = None) -> CrankRun:
    plant = Plant(machine_of(load_sheet(sheet_id)), spice)
    plant.go(plant.machine.sheet.cranking_state() or "")
    return crank_trace(plant, 1.5, compression)


def test_the_disc_bounces_before_the_inrush_is_over(spice: Spice) -> None:
    run = cranked(spice)
    early = run.time_s < 0.02
    lifts, lasts = BOUNCES[0]
    before, at_end = (float(np.interp(t, run.time_s, run.amps)) for t in (lifts, lifts + lasts))
    assert at_end < 0.8 * before
    assert run.amps[early].max() > 2.5 * run.amps[run.time_s > 1].mean()


def test_a_weak_cylinder_lets_the_speed_run_ahead_once_a_cycle(spice: Spice) -> None:
    even, weak = cranked(spice), cranked(spice, compression=(1, 1, 0.7, 1))
    assert np.ptp(weak.speed_rpm[weak.time_s > 0.8]) > 1.2 * np.ptp(even.speed_rpm[even.time_s > 0.8])


def test_where_no_current_reaches_the_starter_there_is_no_crank(spice: Spice) -> None:
    plant = Plant(machine_of(load_sheet("pool-car")), spice)
    plant.go("rest")
    with pytest.raises(RigError, match="no current"):
        crank_trace(plant, 1.0)
    plant.go("crank")
    with pytest.raises(RigError, match="4 cylinders"):
        crank_trace(plant, 1.0, (1, 1))
