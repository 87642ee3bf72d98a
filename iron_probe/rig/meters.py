"""Meters and hands: what an instrument shows of a plant, with its error, its last digit, its own load, and what a hand does wrong."""

from dataclasses import dataclass, field
from enum import StrEnum
from math import inf, isinf

import numpy as np

from iron_probe.core.circuit.elements import Alternator, FieldRegulator, Module, Relay, Solenoid, Stator, Switch
from iron_probe.rig.errors import RigError
from iron_probe.rig.netlist import Path, closed
from iron_probe.rig.plant import Heard, Plant, Shown

VOLT_SHARE, CLAMP_SHARE, CLAMP_ZERO_A, TESTER_SHARE = 0.004, 0.02, 0.8, 0.1
"""One sigma of a hand meter's volts, a clamp's gain and zero, a battery tester's resistance (common practice)."""
INPUT_OHM, LOW_INPUT_OHM = 10e6, 400e3
"""Input of a hand meter, and of its low-impedance range."""
LEADS_OHM = 0.15
OVER_OHM = 20e6
LAMP_OHM = {"small": 48.0, "medium": 12.0, "large": 3.0}
"""Test lamps of 0.25, 1 and 4 A on 12 V, hot [Ω]."""
LAMP_DIM, LAMP_BRIGHT = 0.3, 0.75
"""Shares of the source between which a lamp is called dim."""
WEAK, WORKS = 0.35, 0.75
"""Shares of its volts between which a consumer is called weak."""
LOAD_TESTER_OHM = 0.12
"""A carbon pile set for 100 A on a good 12 V battery: a resistance."""
JUMPER_OHM, STRAP_OHM = 0.006, 0.0012
CHARGES_V = 13.2
"""A 12 V machine over this while it runs is charging."""


class Slip(StrEnum):
    """What a hand does wrong."""

    SWAPPED = "leads swapped"
    NEXT_DOOR = "the point next door"
    DECIMAL = "decimal slipped"
    NO_CONTACT = "a lead off"


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
        slip = self.slip()
        if slip is Slip.NEXT_DOOR:
            red = self._next_door(plant, red)
        if slip is Slip.NO_CONTACT:
            return Shown(0.0, 0.0, 0.0)
        shown = plant.between(red, black, input_ohm) if red != black else Shown(0.0, 0.0, 0.0)
        factor = (
            (1 + VOLT_SHARE * float(self.rng.standard_normal())) * {Slip.SWAPPED: -1, Slip.DECIMAL: 0.1}.get(slip, 1)
            if slip
            else 1 + (VOLT_SHARE * float(self.rng.standard_normal()))
        )
        return Shown(*(round(v * factor, 3 if abs(v) < 2 else 2) for v in (shown.value, shown.least, shown.greatest)))

    def amps(self, plant: Plant, branch: str) -> Shown:
        """What a clamp shows."""
        shown = plant.amps(branch)
        gain, zero = 1 + CLAMP_SHARE * float(self.rng.standard_normal()), CLAMP_ZERO_A * float(self.rng.standard_normal())
        return Shown(*(round(abs(v) * gain + zero, 1) for v in (shown.value, shown.least, shown.greatest)))

    def lamp(self, plant: Plant, red: str, black: str, size: str) -> str:
        """Off, dim or bright; the lamp is a load and may move what it feeds through."""
        blocks = plant.machine.sheet.system_v / 12
        ohm = LAMP_OHM[size] * blocks**2
        plant.attach(Path(red, black, ohm))
        share = abs(plant.between(red, black).value) / plant.machine.sheet.system_v
        plant.detach()
        return "off" if share < LAMP_DIM * 0.6 else "dim" if share < LAMP_BRIGHT else "bright"

    def under_load(self, plant: Plant, red: str, black: str) -> float:
        """Volts while a carbon pile pulls."""
        plant.attach(Path(red, black, LOAD_TESTER_OHM * plant.machine.sheet.system_v / 12))
        shown = plant.between(red, black).value
        plant.detach()
        return round(shown * (1 + VOLT_SHARE * float(self.rng.standard_normal())), 2)

    def bridged(self, plant: Plant, a: str, b: str, ohm: float) -> Heard:
        """What is heard with two points bridged."""
        plant.attach(Path(a, b, ohm))
        heard = plant.heard()
        plant.detach()
        return heard

    def works(self, plant: Plant, consumer: str) -> str:
        """Whether a consumer is dead, weak or works."""
        share = plant.works(consumer)
        return "dead" if share < WEAK else "weak" if share < WORKS else "works"

    def charges(self, plant: Plant, a: str, b: str, ohm: float) -> bool:
        """Whether a running machine charges with a path put on."""
        sheet = plant.machine.sheet
        plant.attach(Path(a, b, ohm))
        volts = plant.between(sheet.plus, sheet.minus).value
        plant.detach()
        return volts > CHARGES_V * sheet.system_v / 12

    def ohms(self, plant: Plant, branch: str) -> float:
        """Ohms of a part by itself, its plug off; `inf` over range."""
        ohm = part_ohm(plant, branch)
        return inf if ohm > OVER_OHM else round(max(ohm * (1 + 0.01 * float(self.rng.standard_normal())), 0) + 0.02 * self.rng.random(), 2)

    def internal_ohm(self, plant: Plant, battery: str) -> float:
        """A conductance tester's resistance of a battery."""
        return internal_ohm(plant, battery) * (1 + TESTER_SHARE * float(self.rng.standard_normal()))

    def _next_door(self, plant: Plant, point: str) -> str:
        near = [
            p for e in plant.machine.sheet.elements for p in e.points() if point in e.points() and p != point and e.type != "battery"
        ]  # fmt: skip
        return near[int(self.rng.integers(len(near)))] if near else point


def internal_ohm(plant: Plant, battery: str) -> float:
    """Ohmic part of a battery's resistance, as a short pulse sees it."""
    element = next(b for b in plant.machine.sheet.batteries if b.id == battery)
    return plant.machine.cells[battery].ohm(element, plant.machine.temp_degc)


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
        case Stator():
            return _pair_ohm(element, values, part)
        case Module() | Alternator() | FieldRegulator():
            pass
    if name in plant.devices.blown:
        return inf
    found = values.get(f"{part}_ohm" if part else "ohm")
    if found is None:
        raise RigError(f"{branch} has no ohms to measure")
    return found


def _pair_ohm(stator: Stator, values: dict[str, float], part: str) -> float:
    """Between the ends of winding `part` (w1 to w3), the others in their way too when they are in delta."""
    own = values[f"{part}_ohm"]
    if stator.joined == "star":
        return own
    others = sum(values[f"w{k}_ohm"] for k in (1, 2, 3) if f"w{k}" != part)
    return 1 / ((0 if isinf(own) else 1 / own) + (0 if isinf(others) else 1 / others) or 1e-12)
