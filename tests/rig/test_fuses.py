"""Fuses of the rig: curves by kind, and one that opens as a trace."""

from math import inf
from typing import get_args

import pytest

from iron_probe.core.circuit.fuses import FuseKind
from iron_probe.machines import load_sheet
from iron_probe.rig.build import machine_of
from iron_probe.rig.errors import RigError
from iron_probe.rig.fuses import CURVES, fuse_trace, opens_after_s
from iron_probe.rig.machine import Bypass, Devices
from iron_probe.rig.spice import Spice


def test_a_blade_opens_sooner_the_more_it_carries() -> None:
    times = [opens_after_s(x, "regular") for x in (1.2, 1.4, 2.0, 4.0, 10.0)]
    assert times[0] == inf
    assert times == sorted(times, reverse=True)
    assert 0.15 <= times[2] <= 5  # ISO 8820-3 at twice the rating, from memory


def test_every_kind_has_a_curve_of_its_own_nature() -> None:
    assert set(CURVES) == set(get_args(FuseKind))
    held = {kind: opens_after_s(2.5, kind) for kind in CURVES}
    assert held["glass"] < held["maxi"] < held["cartridge"] and held["regular"] < held["link"] < held["breaker"]


def test_a_fuse_before_a_dead_short_opens_in_its_time_and_one_that_holds_does_not(spice: Spice) -> None:
    machine = machine_of(load_sheet("patrol-motorcycle"))
    fuse = machine.sheet.element("ign-fuse")
    held = fuse_trace(machine, Devices(state="run"), "ign-fuse", 0.4, spice)
    assert held.opened_s is None and 0.5 < held.amps[-1] < machine.values["ign-fuse"]["rating_a"]
    machine.bypasses.append(Bypass(fuse.points()[1], machine.sheet.minus, 0.12))
    blown = fuse_trace(machine, Devices(state="run"), "ign-fuse", 0.4, spice)
    assert blown.opened_s is not None and 0.005 < blown.opened_s < 0.2
    before, after = blown.time_s < blown.opened_s, blown.time_s > blown.opened_s
    assert blown.amps[before].mean() > 5 * machine.values["ign-fuse"]["rating_a"] and (blown.amps[after] == 0).all()
    assert blown.volts[after][-1] > 11 > 2 > blown.volts[before].mean()
    with pytest.raises(RigError, match="only a fuse"):
        fuse_trace(machine, Devices(state="run"), "battery", 0.1, spice)
