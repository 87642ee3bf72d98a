"""What comes of lamps, bridges, a forced field, a module asked and a look: as the rig's circuit has it."""

import pytest

from iron_probe.bay.by_hand import charges_forced, inside_ohm, looks
from iron_probe.bay.in_bay import InBay
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.core.errors import ReadingError
from iron_probe.machines import load_sheet, sheet_ids
from iron_probe.rig.build import peaks_of
from iron_probe.rig.catalogue import HiddenFault, catalogue
from iron_probe.rig.spice import Spice

MOWER = load_sheet("green-mower")
CRANK = MOWER.cranking_state() or ""


def hidden(name: str, part: str, severity: float = 1.0) -> HiddenFault:
    return HiddenFault(next(f for f in catalogue() if f.name == name), part, severity)


def bay(spice: Spice, *faults: HiddenFault) -> InBay:
    return InBay(MOWER, 5, peaks_of(MOWER, spice, list(MOWER.states)), spice, list(faults))


def test_a_lamp_is_bright_at_the_posts_and_off_behind_an_open_fuse(spice: Spice) -> None:
    fuse = next(e for e in MOWER.elements if e.type == "fuse")
    one = bay(spice, hidden("blown_fuse", fuse.id))
    at = {"instrument": Instrument.LAMP_SMALL, "state": CRANK, "black": MOWER.minus, "word": "off"}
    words = [one.read(Reading(red=red, **at)).word for red in (MOWER.plus, fuse.start, fuse.end)]  # type: ignore[arg-type]
    assert words[0] == "bright" and "off" in words[1:]


def test_a_jumper_over_an_open_fuse_cranks_and_is_off_again_afterwards(spice: Spice) -> None:
    fuse = next(e for e in MOWER.elements if e.type == "fuse")
    one = bay(spice, hidden("blown_fuse", fuse.id))
    jumper = Reading(instrument=Instrument.JUMPER, state=CRANK, red=fuse.start, black=fuse.end, word="nothing")
    assert one.read(jumper).word == "cranks"
    assert one.read(Reading(instrument=Instrument.EYES, state=CRANK, word="nothing")).word != "cranks"


def test_a_worn_battery_has_more_inside_than_a_sound_one(spice: Spice) -> None:
    battery = MOWER.batteries[0].id
    sound, worn = (inside_ohm(b.plant, MOWER.plus, MOWER.minus) for b in (bay(spice), bay(spice, hidden("worn", battery, 0.1))))
    asked = Reading(instrument=Instrument.TESTER, branch=battery, state=next(iter(MOWER.states)), value=0.0)
    assert 0.002 < sound < worn and bay(spice).read(asked).value == pytest.approx(sound)


def test_what_is_green_looks_green_and_what_nobody_sees_looks_good() -> None:
    assert looks([hidden("lossy_joint", "a", 2.0)], "a") == "green" and looks([hidden("lossy_joint", "a", 2.0)], "b") == "good"
    assert looks([hidden("lossy_cable", "a", 2.0)], "a") == "good"


def test_a_forced_field_charges_a_machine_whose_regulator_is_dead(spice: Spice) -> None:
    sheet = next(s for s in map(load_sheet, sheet_ids()) if any(e.type == "field_regulator" for e in s.elements))
    regulator = next(e for e in sheet.elements if e.type == "field_regulator")
    alternator = next(e for e in sheet.elements if e.type == "alternator")
    state = sheet.running_states()[-1]
    one = InBay(sheet, 5, peaks_of(sheet, spice, list(sheet.states)), spice, [hidden("regulator_dead", regulator.id)])
    forced = Reading(instrument=Instrument.FULL_FIELD, branch=alternator.id, state=state, word="no_change")
    assert one.read(forced).word == "charges"
    one.plant.go(state)
    with pytest.raises(ReadingError, match="no terminal"):
        charges_forced(bay(spice).plant, forced.model_copy(update={"branch": "battery"}))
