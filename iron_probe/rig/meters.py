"""Meters and hands: what an instrument shows of a plant, with its error, its last digit, its own load, and what a hand does wrong."""

from dataclasses import dataclass, field
from enum import StrEnum
from math import inf

import numpy as np

from iron_probe.core.circuit.elements import Alternator, Diode, Load, Relay, Solenoid, Stator, Switch
from iron_probe.rig.build import machine_of
from iron_probe.rig.errors import RigError
from iron_probe.rig.machine import Bypass, closed
from iron_probe.rig.netlist import SHORTED_DIODE_OHM
from iron_probe.rig.plant import Heard, Plant, Shown
from iron_probe.rig.stator import pair_ohm

VOLT_SHARE, CLAMP_SHARE, CLAMP_ZERO_A = 0.004, 0.02, 0.8
"""One sigma of a hand meter's volts, and of a clamp's gain and zero [A] (common practice)."""
INPUT_OHM, LOW_INPUT_OHM = 10e6, 400e3
"""Input of a hand meter, and of its low-impedance range."""
OHM_SHARE, LEADS_ZERO_OHM, OVER_OHM = 0.01, 0.02, 20e6
"""Ohms: one sigma as a share, what is left of the leads after their zero [Ω], and from where the meter shows over range [Ω]."""
LAMP_OHM = {"small": 48.0, "medium": 12.0, "large": 3.0}
"""Test lamps of 0.25, 1 and 4 A on 12 V, hot [Ω]."""
LAMP_OFF, LAMP_BRIGHT = 0.18, 0.75
"""Shares of the source between which a lamp is called dim."""
WEAK, WORKS = 0.35, 0.75
"""Shares of its volts between which a consumer is called weak."""
LOAD_TESTER_OHM = 0.12
"""A carbon pile set for 100 A on a good 12 V battery: a resistance."""


class Slip(StrEnum):
    """What a hand does wrong."""

    SWAPPED = "leads swapped"
    NEXT_DOOR = "the point next door"
    DECIMAL = "decimal slipped"
    NO_CONTACT = "a lead off"
    BAD_CONTACT = "a tip on paint"
    LOOSE_REFERENCE = "the black clamp loose"
    OTHER_STATE = "not the state that was asked for"
    CHARGER_LEFT_ON = "the charger left on"
    FROM_MEMORY = "told from memory"


MEMORY_SHARE = 0.15
"""One sigma of a figure told from memory, as a share of it."""
CONTACT_OHM = (1e6, 1e8)
"""A tip on paint or a clamp that hangs loose [Ω]."""
CHARGER_V, CHARGER_OHM = 13.8, 0.15
"""A bench charger on a 12 V block that somebody left on: volts behind a resistance."""
SHOWN_AS: dict[Slip | None, float] = {Slip.SWAPPED: -1.0, Slip.DECIMAL: 0.1}
"""What a slip makes of a figure."""


@dataclass(slots=True)
class Hand:
    """A technician with a meter: `slips` the chance that a reading is one, `forced` a slip made at the next reading whatever the chance."""

    rng: np.random.Generator
    slips: float = 0.0
    forced: Slip | None = None
    made: list[Slip] = field(default_factory=list)

    def slip(self) -> Slip | None:
        """The slip made now, if one is."""
        slip = self.forced
        if slip is None and self.rng.random() < self.slips:
            slip = list(Slip)[int(self.rng.integers(len(Slip)))]
        self.forced = None
        if slip is not None:
            self.made.append(slip)
        return slip

    def volts(self, plant: Plant, red: str, black: str, input_ohm: float = INPUT_OHM) -> Shown:
        """What a voltmeter shows, with its least and greatest while it is unsteady."""
        slip, asked = self.slip(), plant.state
        match slip:
            case Slip.NEXT_DOOR:
                red = self._next_door(plant, red)
            case Slip.OTHER_STATE:
                others = [s for s in plant.machine.sheet.states if s != asked]
                plant.go(others[int(self.rng.integers(len(others)))] if others else asked)
            case Slip.CHARGER_LEFT_ON:
                plant.attach(_charger(plant))
        if slip is Slip.NO_CONTACT or red == black:
            return Shown(0.0, 0.0, 0.0)
        found = plant.between(red, black, input_ohm)
        if slip is Slip.OTHER_STATE:
            plant.go(asked)
        elif slip is Slip.CHARGER_LEFT_ON:
            plant.detach()
        clamped = black == plant.machine.sheet.minus
        return _digits(found, self._shown_as(slip, input_ohm, clamped) * (1 + VOLT_SHARE * self._chance()))

    def _shown_as(self, slip: Slip | None, input_ohm: float, clamped: bool) -> float:
        """What a slip makes of a figure, its black lead `clamped` to battery minus or held: turned round, a digit short, less through a
        poor contact, or as somebody remembers it."""
        if slip is Slip.BAD_CONTACT or (slip is Slip.LOOSE_REFERENCE and clamped):
            return input_ohm / (input_ohm + CONTACT_OHM[0] * (CONTACT_OHM[1] / CONTACT_OHM[0]) ** self.rng.random())
        if slip is Slip.FROM_MEMORY:
            return 1 + MEMORY_SHARE * self._chance()
        return SHOWN_AS.get(slip, 1.0)

    def amps(self, plant: Plant, branch: str) -> Shown:
        """What a clamp shows."""
        shown = plant.amps(branch)
        gain, zero = 1 + CLAMP_SHARE * self._chance(), CLAMP_ZERO_A * self._chance()
        return Shown(*(round(abs(v) * gain + zero, 1) for v in (shown.value, shown.least, shown.greatest)))

    def lamp(self, plant: Plant, red: str, black: str, size: str) -> str:
        """Off, dim or bright; the lamp is a load and may move what it feeds through."""
        system_v = plant.machine.sheet.system_v
        share = abs(self._with(plant, Bypass(red, black, LAMP_OHM[size] * (system_v / 12) ** 2)).between(red, black).value) / system_v
        plant.detach()
        return "off" if share < LAMP_OFF else "dim" if share < LAMP_BRIGHT else "bright"

    def under_load(self, plant: Plant, red: str, black: str) -> float:
        """Volts while a carbon pile pulls."""
        ohm = LOAD_TESTER_OHM * plant.machine.sheet.volts_between(red, black) / 12
        shown = self._with(plant, Bypass(red, black, ohm)).between(red, black)
        plant.detach()
        return _digits(shown, 1 + VOLT_SHARE * self._chance()).value

    def bridged(self, plant: Plant, a: str, b: str, ohm: float) -> Heard:
        """What is heard with two points bridged."""
        heard = self._with(plant, Bypass(a, b, ohm)).heard()
        plant.detach()
        return heard

    def field_off(self, plant: Plant, alternator: Alternator) -> float:
        """Volts at the posts with all that meets an alternator's field terminal parted from it."""
        sheet = plant.machine.sheet
        wires = [e.id for e in sheet.elements if alternator.f in e.points() and e.id != alternator.id]
        for wire in wires:
            plant.part(wire)
        shown = plant.between(sheet.plus, sheet.minus)
        for wire in wires:
            plant.join(wire)
        return _digits(shown, 1 + VOLT_SHARE * self._chance()).value

    def fit_new(self, plant: Plant, fuse: str) -> bool:
        """Whether a new fuse, of the rating the plan says, holds in the state that stands; the old one is put back after."""
        old, blown = plant.machine.values[fuse], set(plant.blown)
        plant.machine.values[fuse] = dict(machine_of(plant.machine.sheet, plant.machine.temp_degc).values[fuse])
        plant.changed()
        held = fuse not in plant.blown
        plant.machine.values[fuse] = old
        plant.changed()
        plant.blown |= blown
        plant.go(plant.state)
        return held

    def _with(self, plant: Plant, bypass: Bypass) -> Plant:
        plant.attach(bypass)
        return plant

    def _chance(self) -> float:
        return float(self.rng.standard_normal())

    def works(self, plant: Plant, consumer: str) -> str:
        """Whether a consumer is dead, weak or works."""
        share = plant.works(consumer)
        return "dead" if share < WEAK else "weak" if share < WORKS else "works"

    def ohms(self, plant: Plant, branch: str) -> float:
        """Ohms of a part by itself, its plug off; `inf` over range."""
        ohm = part_ohm(plant, branch)
        return inf if ohm > OVER_OHM else round(max(ohm * (1 + OHM_SHARE * self._chance()), 0) + LEADS_ZERO_OHM * self.rng.random(), 2)

    def _next_door(self, plant: Plant, point: str) -> str:
        near = [
            p for e in plant.machine.sheet.elements for p in e.points() if point in e.points() and p != point and e.type != "battery"
        ]  # fmt: skip
        return near[int(self.rng.integers(len(near)))] if near else point


def _charger(plant: Plant) -> Bypass:
    sheet = plant.machine.sheet
    return Bypass(sheet.plus, sheet.minus, CHARGER_OHM, CHARGER_V * sheet.system_v / 12)


def _digits(shown: Shown, factor: float) -> Shown:
    """What the display has room for: millivolts under two volts, hundredths above."""
    return Shown(*(round(v * factor, 3 if abs(v * factor) < 2 else 2) for v in (shown.value, shown.least, shown.greatest)))


def bare_ohm(plant: Plant, element: str) -> float:
    """Ohms from a wire or plug by itself, both its ends off, to battery minus; `inf` while its insulation holds."""
    minus = plant.machine.sheet.minus
    return min((b.ohm for b in plant.machine.bypasses if b.of == element and minus in (b.a, b.b)), default=inf)


def part_ohm(plant: Plant, branch: str) -> float:
    """Resistance of one branch of the sheet by itself; switches stand as the state has them. RigError where there is none to measure."""
    name, _, part = branch.partition(".")
    element, values = plant.machine.sheet.element(name), plant.machine.values[name]
    match element:
        case Relay() if part in ("contact", "rest"):
            made = closed(False, values["stuck"]) is (part == "contact")
            return values["contact_ohm"] if made else inf
        case Solenoid() if part == "contact":
            return values["contact_ohm"] if values["stuck"] > 0 else inf
        case Switch():
            made = closed(plant.machine.sheet.in_position(element.closed_in, plant.state), values["stuck"])
            return values["ohm"] if made else inf
        case Load() if not plant.machine.sheet.in_position(element.on_in, plant.state):
            return inf  # switched off inside
        case Diode():
            return SHORTED_DIODE_OHM if values["shorted"] else inf  # read against its way
        case Stator():
            winding = next(b for b in element.branches() if b.name == part)
            return pair_ohm(element, values, winding.start, winding.end)
    if name in plant.blown:
        return inf
    found = values.get(f"{part}_ohm" if part else "ohm")
    if found is None:
        raise RigError(f"{branch} has no ohms to measure")
    return found
