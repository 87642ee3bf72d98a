"""A machine in a technician's hands: parts of a drawing that was changed since stand for what they touch."""

import pytest

from iron_probe.bay.in_bay import InBay
from iron_probe.core.circuit.elements import Joint
from iron_probe.core.circuit.sheet import Point
from iron_probe.machines import load_sheet
from iron_probe.rig.build import peaks_of
from iron_probe.rig.catalogue import HiddenFault, catalogue
from iron_probe.rig.spice import Spice

MOWER = load_sheet("green-mower")


def test_a_joint_drawn_in_where_one_was_undrawn_is_repaired_with_it(spice: Spice) -> None:
    undrawn = next(f for f in catalogue() if f.name == "undrawn_joint")
    posts = {MOWER.plus, MOWER.minus}
    wire = next(e for e in MOWER.elements if e.type == "wire" and not posts & set(e.points()))
    bay = InBay(MOWER, 4, peaks_of(MOWER, spice, list(MOWER.states)), spice, [HiddenFault(undrawn, wire.id, 5.0)])
    end = wire.points()[1]
    joint = Joint.model_validate({"id": "found", "type": "joint", "title": "Crimp", "from": "before", "to": end})
    drawn = MOWER.changed(points={**MOWER.points, "before": Point(title="before the crimp")}, elements=[*MOWER.elements, joint])
    own = bay.own_part(drawn, "found")
    assert end in MOWER.element(own).points() and bay.own_part(drawn, wire.id) == wire.id
    bay.mend([own])
    assert not bay.faults and not bay.innocent


@pytest.mark.parametrize("part", ["nothing", "battery-9"])
def test_what_touches_nothing_stands_for_nothing(spice: Spice, part: str) -> None:
    bay = InBay(MOWER, 4, peaks_of(MOWER, spice, list(MOWER.states)), spice, [])
    assert bay.own_part(MOWER, part) == ""
