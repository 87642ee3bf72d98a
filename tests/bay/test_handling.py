"""Hands on a practice machine: what they bring on, ease, tear or burn, and that all of it comes of the rig's own circuit."""

from math import inf

import pytest

from iron_probe.bay import handling
from iron_probe.bay.acts import Act, Caution
from iron_probe.bay.handling import handle, way_through
from iron_probe.bay.in_bay import InBay
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet
from iron_probe.rig.build import peaks_of
from iron_probe.rig.catalogue import HiddenFault, catalogue
from iron_probe.rig.plant import Heard
from iron_probe.rig.spice import Spice

MOWER = load_sheet("green-mower")
CRANK = MOWER.cranking_state() or ""


@pytest.fixture(scope="module")
def peaks(spice: Spice) -> dict[str, float]:
    return peaks_of(MOWER, spice, list(MOWER.states))


def bay_of(spice: Spice, peaks: dict[str, float], *hidden: tuple[str, str, float], seed: int = 3) -> InBay:
    faults = [HiddenFault(next(f for f in catalogue() if f.name == name), part, severity) for name, part, severity in hidden]
    return InBay(MOWER, seed, peaks, spice, faults)


def of_kind(sheet: Sheet, kind: str) -> str:
    return next(e.id for e in sheet.elements if e.type == kind)


def cranked(bay: InBay) -> Heard:
    """What it does when it is cranked anew."""
    bay.plant.let_go()
    bay.plant.go(CRANK)
    return bay.plant.heard()


def often(monkeypatch: pytest.MonkeyPatch, **chances: float) -> None:
    monkeypatch.setattr(handling, "EASES", dict.fromkeys(handling.EASES, chances.get("eases", 0.0)))
    monkeypatch.setattr(handling, "TEARS", chances.get("tears", 0.0))
    monkeypatch.setattr(handling, "PIN_LOST", chances.get("pin_lost", 0.0))


def test_a_poor_contact_joined_anew_is_better_until_a_quarter_of_an_hour_has_passed(
    spice: Spice, peaks: dict[str, float], monkeypatch: pytest.MonkeyPatch
) -> None:
    often(monkeypatch, eases=1.0)
    joint = of_kind(MOWER, "joint")
    bay = bay_of(spice, peaks, ("lossy_joint", joint, 6.0))
    bad = cranked(bay)
    assert handle(bay, Act.PART, joint, CRANK).eased
    assert cranked(bay) is Heard.CRANKS is not bad
    handle(bay, Act.TIME, "", CRANK)
    assert bay.plant.heard() is bad and bay.faults


def test_a_thread_moved_tears_and_what_is_torn_stays_so_until_it_is_mended(
    spice: Spice, peaks: dict[str, float], monkeypatch: pytest.MonkeyPatch
) -> None:
    often(monkeypatch, tears=1.0)
    joint = of_kind(MOWER, "joint")
    bay = bay_of(spice, peaks, ("hangs_by_a_thread", joint, 2.0))
    assert handle(bay, Act.TOUCH, joint, CRANK).broke
    assert bay.plant.machine.values[joint]["ohm"] == inf
    bay.mend([of_kind(MOWER, "battery")])
    assert bay.plant.machine.values[joint]["ohm"] == inf
    bay.mend([joint])
    assert bay.plant.machine.values[joint]["ohm"] < 1 and not bay.faults


def test_a_sound_pin_may_be_lost_and_is_a_fault_from_then_on(
    spice: Spice, peaks: dict[str, float], monkeypatch: pytest.MonkeyPatch
) -> None:
    often(monkeypatch, pin_lost=1.0)
    joint = of_kind(MOWER, "joint")
    bay = bay_of(spice, peaks)
    assert not handle(bay, Act.TOUCH, joint, CRANK).broke
    assert handle(bay, Act.PART, joint, CRANK).broke and [f.element for f in bay.faults] == [joint]
    assert cranked(bay) is not Heard.CRANKS
    bay.mend([joint])
    assert not bay.faults and not bay.innocent


def test_a_wire_across_an_open_joint_cranks_it_and_across_a_fuse_before_a_short_smokes(spice: Spice, peaks: dict[str, float]) -> None:
    fuse = of_kind(MOWER, "fuse")
    bay = bay_of(spice, peaks, ("blown_fuse", fuse, 1.0))
    done = handle(bay, Act.BRIDGE, fuse, CRANK)
    assert done.caution is None and done.amps is not None and 0 < done.amps < handling.SMOKES_A
    with handling.bridged(bay, fuse):
        assert bay.plant.heard() is Heard.CRANKS
    assert bay.plant.heard() is not Heard.CRANKS
    wire = next(e.id for e in MOWER.elements if e.type == "wire" and set(e.points()) & set(MOWER.element(fuse).points()))
    shorted = bay_of(spice, peaks, ("wire_shorted", wire, 0.01))
    smoked = [handle(shorted, Act.BRIDGE, fuse, state).caution for state in MOWER.states]
    assert Caution.SMOKE in smoked


def test_an_ammeter_shows_what_the_way_carries_and_its_fuse_goes_over_ten_amps_for_ever(spice: Spice, peaks: dict[str, float]) -> None:
    bay = bay_of(spice, peaks)
    fuse, cable = of_kind(MOWER, "fuse"), next(e.id for e in MOWER.elements if e.type == "cable")
    bay.plant.go(CRANK)
    real = abs(bay.plant.amps(fuse).value)
    small = handle(bay, Act.SERIES, fuse, CRANK)
    assert small.amps == pytest.approx(real, rel=0.2) and small.caution is None
    assert handle(bay, Act.SERIES, cable, CRANK).caution is Caution.METER_FUSE
    assert handle(bay, Act.SERIES, fuse, CRANK).amps == 0.0
    bay.plant.go(CRANK)
    assert abs(bay.plant.amps(fuse).value) == pytest.approx(real, rel=1e-6)  # all is where it was


def test_a_hand_by_what_turns_is_a_caution_broken_and_at_rest_it_is_none(spice: Spice, peaks: dict[str, float]) -> None:
    starter = of_kind(MOWER, "starter")
    bay = bay_of(spice, peaks)
    assert handle(bay, Act.TOUCH, starter, CRANK).caution is Caution.BY_THE_BELT
    assert handle(bay, Act.TOUCH, starter, next(iter(MOWER.states))).caution is None
    assert handle(bay, Act.TOUCH, of_kind(MOWER, "battery"), CRANK).caution is None


@pytest.mark.parametrize("kind", ["battery", "starter"])
def test_no_wire_goes_across_what_is_no_way(kind: str) -> None:
    with pytest.raises(ReadingError, match="fuse, joint, plug"):
        way_through(MOWER.element(of_kind(MOWER, kind)))


def test_the_same_acts_come_to_the_same(spice: Spice, peaks: dict[str, float]) -> None:
    joint = of_kind(MOWER, "joint")
    acts = [(Act.PART, joint, CRANK), (Act.TOUCH, joint, CRANK), (Act.TIME, "", CRANK)]
    twice = [[handle(bay, *act) for act in acts] for bay in (bay_of(spice, peaks, ("lossy_joint", joint, 3.0)) for _ in range(2))]
    assert twice[0] == twice[1]
