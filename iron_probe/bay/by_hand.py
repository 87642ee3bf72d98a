"""Readings that are made by doing something to the machine, or by looking at it: lamps, bridges, a field forced, a module asked, a tester on the battery."""

from collections.abc import Sequence

from iron_probe.core.circuit.charging import Alternator, FieldRegulator
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import BRIDGES, LAMPS, LOOK_WORDS, WORDS, Instrument, Reading
from iron_probe.core.errors import ReadingError
from iron_probe.core.limits import CHARGES_V
from iron_probe.rig.catalogue import HiddenFault
from iron_probe.rig.machine import Bypass
from iron_probe.rig.meters import LAMP_OHM, LOAD_TESTER_OHM, Hand
from iron_probe.rig.plant import Plant

SIZE = {Instrument.LAMP_SMALL: "small", Instrument.LAMP_MEDIUM: "medium", Instrument.LAMP_LARGE: "large"}
BRIDGE_OHM = 0.01
"""A bridge of wire in the hand, with its clips [Ω] (common practice)."""
FORCES = (Instrument.SUBSTITUTE, Instrument.FULL_FIELD)
BY_HAND = (*LAMPS, *BRIDGES, *FORCES, Instrument.ANSWERS, Instrument.TESTER, Instrument.LOOKS)
"""Instruments that are read here; all others are the rig's reader's."""
TELLS = {
    "green": "green",
    "rust": "green",
    "salt": "green",
    "loose": "loose",
    "turns": "loose",
    "burnt": "burnt",
    "hot": "warm",
    "chafed": "chafed",
}
"""Words of a fault's story by which it is seen, and how that looks."""


def by_hand(plant: Plant, hand: Hand, faults: Sequence[HiddenFault], asked: Reading) -> Reading:
    """The same reading with what comes of it. ReadingError where the machine has no place for such a test."""
    plant.go(asked.state)
    red, black, part = asked.red or "", asked.black or "", (asked.branch or "").partition(".")[0]
    kind = asked.instrument
    if kind is Instrument.TESTER:
        return asked.model_copy(update={"value": inside_ohm(plant, *plant.machine.sheet.element(part).points()[:2])})
    if kind in LAMPS:
        word = hand.lamp(plant, red, black, SIZE[kind])
    elif kind in BRIDGES:
        word = hand.bridged(plant, red, black, BRIDGE_OHM).value
    elif kind is Instrument.ANSWERS:
        word = WORDS[kind][plant.devices.alive.get(part, False)]
    elif kind is Instrument.LOOKS:
        word = looks(faults, part)
    else:
        word = WORDS[kind][charges_forced(plant, asked)]
    return asked.model_copy(update={"word": word})


def inside_ohm(plant: Plant, red: str, black: str) -> float:
    """What a battery tester finds between two posts [Ω]: how far a load pulls them down, over its amps."""
    load_ohm = LOAD_TESTER_OHM * plant.machine.sheet.volts_between(red, black) / 12
    open_v, loaded_v = abs(plant.between(red, black).value), abs(plant.between(red, black, load_ohm).value)
    return max(open_v - loaded_v, 0.0) / max(loaded_v / load_ohm, 1e-6)


def looks(faults: Sequence[HiddenFault], part: str) -> str:
    """How a part looks: as the story of a fault in it tells, or good, for most of what fails cannot be seen."""
    stories = " ".join(f.fault.story for f in faults if f.element == part)
    return next((look for word, look in TELLS.items() if word in stories), LOOK_WORDS[0])


def charges_forced(plant: Plant, asked: Reading) -> bool:
    """Whether the posts rise with a lamp in place of the machine's own, or its field forced past the regulator."""
    sheet, lead = plant.machine.sheet, _lead(plant.machine.sheet, asked)
    plant.attach(lead)
    posts_v = plant.between(sheet.plus, sheet.minus).value
    plant.detach()
    return posts_v > CHARGES_V * sheet.system_v / 12


def _lead(sheet: Sheet, asked: Reading) -> Bypass:
    alternator = sheet.element((asked.branch or "").partition(".")[0])
    if isinstance(alternator, Alternator):
        if asked.instrument is Instrument.SUBSTITUTE and alternator.l:
            return Bypass(sheet.plus, alternator.l, LAMP_OHM["small"] * (sheet.system_v / 12) ** 2)
        outside = sheet.element(alternator.regulator) if alternator.regulator else None
        if asked.instrument is Instrument.FULL_FIELD and alternator.f and isinstance(outside, FieldRegulator):
            ends = (sheet.plus, alternator.f) if outside.drives == "feeds" else (alternator.f, alternator.case)
            return Bypass(*ends, BRIDGE_OHM)
    raise ReadingError(f"{alternator.title} has no terminal for that test")
