"""What a lost phase, a green plug, shorted turns and a winding to ground leave of a permanent-magnet machine's output.

source: ngspice 39, transient of windings, six (four) diodes and battery (`iron_probe/rig/bridge.py`). Designs differ: within 0.25.
"""

from collections.abc import Iterator
from math import inf

import numpy as np
import pytest

from iron_probe.core.circuit.charging import PHASE_LOST, UNEVEN_RIPPLE
from iron_probe.core.circuit.elements import Rectifier
from iron_probe.core.circuit.faults import Around
from iron_probe.core.circuit.stator_ways import brought, uneven_ripple
from iron_probe.machines import load_sheet
from iron_probe.rig.bridge import bridge_beside_sound
from iron_probe.rig.build import machine_of
from iron_probe.rig.spice import Spice

FAST_RPM = 2500
DESIGNS_DIFFER = 0.25


@pytest.fixture(scope="module")
def spice() -> Iterator[Spice]:
    with Spice() as one:
        yield one


def left(spice: Spice, sheet_id: str, element: str, **values: float) -> float:
    """Share of a sound machine's current that the rig still gives."""
    return beside(spice, sheet_id, element, **values)[0]


def beside(spice: Spice, sheet_id: str, element: str, **values: float) -> tuple[float, float]:
    """Share of a sound machine's current and times of its ripple."""
    machine = machine_of(load_sheet(sheet_id))
    machine.values[element] |= values
    rectifier = next(e for e in machine.sheet.elements if isinstance(e, Rectifier))
    return bridge_beside_sound(machine, rectifier, FAST_RPM, spice)


@pytest.mark.parametrize("sheet_id", ["patrol-motorcycle", "piste-sled", "rescue-watercraft"])
def test_a_lost_phase(spice: Spice, sheet_id: str) -> None:
    assert left(spice, sheet_id, "stator", w1_ohm=inf) == pytest.approx(PHASE_LOST, abs=DESIGNS_DIFFER)


@pytest.mark.parametrize("ohm", [0.3, 1.0, 3.0, 10.0, inf])
def test_a_green_pin(spice: Spice, ohm: float) -> None:
    for sheet_id, others in (("patrol-motorcycle", 2), ("green-mower", 1)):
        rectifier = next(e for e in load_sheet(sheet_id).elements if isinstance(e, Rectifier))
        ways = [np.array([min(ohm, 1e13)]), *[np.zeros(1)] * others]
        assert float(brought(rectifier, ways)[0]) == pytest.approx(left(spice, sheet_id, "stator-pin-1", ohm=ohm), abs=DESIGNS_DIFFER)


@pytest.mark.parametrize("ohm", [0.05, 0.2, 1.0, 3.0])
@pytest.mark.parametrize("sheet_id", ["patrol-motorcycle", "piste-sled", "rescue-watercraft", "green-mower"])
def test_a_winding_on_the_core(spice: Spice, sheet_id: str, ohm: float) -> None:
    """Star, delta and single windings. Of turns burnt together nothing is held against the rig: its windings have no coupling, so the
    shorted loop brakes none of the others."""
    stator = load_sheet(sheet_id).element("stator")
    fault = next(f for f in stator.faults(Around(0.0, lambda _: True)) if f.name == "to_ground")
    windings = next(a for a in fault.altered if a.parameter == "windings")
    assert windings.amount * ohm**windings.power == pytest.approx(left(spice, sheet_id, "stator", earth_ohm=ohm), abs=DESIGNS_DIFFER)


@pytest.mark.parametrize("sheet_id", ["patrol-motorcycle", "piste-sled", "rescue-watercraft"])
def test_an_uneven_machine_ripples_as_much_as_one_with_a_diode_gone(spice: Spice, sheet_id: str) -> None:
    """Ripple alone does not tell a stator from its bridge."""
    for element, values in (("stator", {"w1_ohm": inf}), ("stator", {"earth_ohm": 0.5}), ("rectifier", {"d1p": -1.0})):
        times = beside(spice, sheet_id, element, **values)[1]
        assert UNEVEN_RIPPLE / 2.5 < times < 2.5 * UNEVEN_RIPPLE


@pytest.mark.parametrize("ohm", [0.5, 2.0, inf])
def test_a_green_pin_ripples(spice: Spice, ohm: float) -> None:
    rectifier = next(e for e in load_sheet("patrol-motorcycle").elements if isinstance(e, Rectifier))
    ours = float(uneven_ripple(rectifier, [np.array([min(ohm, 1e13)]), np.zeros(1), np.zeros(1)])[0])
    assert ours == pytest.approx(beside(spice, "patrol-motorcycle", "stator-pin-1", ohm=ohm)[1], rel=0.6)
