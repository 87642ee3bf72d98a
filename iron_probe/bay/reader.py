"""The engine's tests made on the rig: each instrument answered by the rig's meters, and what an owner would complain of."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from iron_probe.bay.by_hand import BY_HAND, by_hand
from iron_probe.bay.sound import sound_beside
from iron_probe.core.bench.typed_value import Bound
from iron_probe.core.circuit.elements import Alternator, Lamp, Stator
from iron_probe.core.circuit.network import branch_id
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import WORDS, Instrument, Reading
from iron_probe.core.diagnose.scope import OFF_V, Scope, states_of
from iron_probe.core.diagnose.test_book import SMALL_LAMP_W
from iron_probe.core.limits import CHARGES_V
from iron_probe.machines import load_sheet
from iron_probe.rig.catalogue import HiddenFault
from iron_probe.rig.meters import OVER_OHM, Hand, Slip, bare_ohm, part_ohm
from iron_probe.rig.plant import Plant, Shown
from iron_probe.rig.stator import ac_volts, pair_ohm

SEEN_V, SEEN_A = 0.3, 10.0
"""A figure that moves by so many volts (12 V systems) or amperes is seen to jump about."""


@dataclass(slots=True)
class RigReader:
    """Takes the readings the engine asks for; a `slip` is made at the first volts. Every crank is made anew; what it does is
    said once it is not what was `complained` of, and from then on beside every reading; a part looks as its `faults` have it."""

    plant: Plant
    rng: np.random.Generator
    slip: Slip | None = None
    complained: str | None = None
    attempts: int = 0
    erratic: bool = False
    drawing: Sheet | None = None
    faults: Sequence[HiddenFault] = ()

    @property
    def drawn(self) -> Sheet:
        """The drawing, which may lack something the machine has: the shipped sheet of its id, or another `drawing` of it."""
        return self.drawing or load_sheet(self.plant.machine.sheet.id)

    def read(self, test: Reading) -> Reading:
        """What comes of a test: its reading in the attempt it was taken in, and what else was heard."""
        cranking = self.drawn.state(test.state).cranking
        if cranking:
            self.plant.let_go()
        if cranking or test.state != self.plant.state:
            self.attempts += 1
        taken = self.take(test.model_copy(update={"crank": self.attempts}))
        did = self.plant.heard()
        self.erratic |= cranking and self.complained not in (None, did.value)
        if not (cranking and self.erratic) or test.instrument is Instrument.EYES:
            return taken
        return taken.model_copy(update={"heard": did})

    def take(self, test: Reading) -> Reading:
        """The same reading with what the rig's meter shows."""
        plant, hand = self.plant, Hand(self.rng)
        plant.go(test.state)
        element = (test.branch or "").partition(".")[0]
        if test.instrument in BY_HAND:
            return by_hand(plant, hand, self.faults, test)
        match test.instrument:
            case Instrument.EYES:
                return test.model_copy(update={"word": plant.heard().value})
            case Instrument.FUNCTION:
                return test.model_copy(update={"word": hand.works(plant, element)})
            case Instrument.CLAMP:
                return _figure(test, hand.amps(plant, test.branch or ""), 0.1, SEEN_A)
            case Instrument.RIPPLE:
                value = plant.ripple_v(element) * (1 + 0.2 * float(self.rng.standard_normal()))
                return test.model_copy(update={"value": round(value, 2)})
            case Instrument.LOAD:
                return test.model_copy(update={"value": hand.under_load(plant, test.red or "", test.black or "")})
            case Instrument.FIELD_OFF:
                alternator = plant.machine.sheet.element(element)
                assert isinstance(alternator, Alternator)
                posts_v = hand.field_off(plant, alternator)
                charges = posts_v > CHARGES_V * plant.machine.sheet.system_v / 12
                return test.model_copy(update={"word": WORDS[test.instrument][charges]})
            case Instrument.NEW_FUSE:
                return test.model_copy(update={"word": WORDS[test.instrument][hand.fit_new(plant, element)]})
            case Instrument.BARE_OHM:
                return self._ohms(test, bare_ohm(plant, element))
            case Instrument.PART_OHM:
                return self._ohms(test, part_ohm(plant, test.branch or ""))
            case Instrument.OHMMETER | Instrument.AC_VOLTS:
                return self._apart(test)
        hand.forced, self.slip = self.slip, None
        red, black = test.red or "", test.black or ""
        if test.branch:  # probes on the part itself: where the rig has it end
            drawn, real = (sheet.element(element).points() for sheet in (self.drawn, plant.machine.sheet))
            red, black = (real[drawn.index(p)] for p in (red, black))
        shown = hand.volts(plant, red, black)
        return _figure(test, shown, 0.001 if abs(shown.value) < 2 else 0.01, SEEN_V * plant.machine.sheet.system_v / 12)

    def _apart(self, test: Reading) -> Reading:
        """Ohms or AC volts with a plug off: of a stator, or of what lies between it and its rectifier."""
        sheet, ends = self.plant.machine.sheet, {test.red, test.black}
        stator = next((e for e in sheet.elements if isinstance(e, Stator) and ends <= set(e.points())), None)
        if stator is None:
            way = next(e for e in sheet.elements if ends == set(e.points()))
            ohm = part_ohm(self.plant, way.id)
        elif test.instrument is Instrument.AC_VOLTS:
            rpm, values = sheet.state(test.state).rpm, self.plant.machine.values[stator.id]
            volts = ac_volts(stator, values, test.red or "", test.black or "", rpm) * (1 + 0.01 * float(self.rng.standard_normal()))
            return test.model_copy(update={"value": round(volts, 1), "resolution": 0.1})
        else:
            ohm = pair_ohm(stator, self.plant.machine.values[stator.id], test.red or "", test.black or "")
        return self._ohms(test, ohm)

    def _ohms(self, test: Reading, ohm: float) -> Reading:
        """What an ohmmeter shows of so many ohms."""
        if ohm > OVER_OHM:
            return test.model_copy(update={"value": OVER_OHM, "bound": Bound.AT_LEAST})
        return test.model_copy(update={"value": round(ohm * (1 + 0.01 * float(self.rng.standard_normal())), 2)})


def _figure(test: Reading, shown: Shown, resolution: float, seen: float) -> Reading:
    """A reading with its figure, and whether it was seen to jump about."""
    unsteady = shown.greatest - shown.least > seen
    return test.model_copy(update={"value": shown.value, "resolution": resolution, "unsteady": unsteady})


def complaint(plant: Plant) -> tuple[Scope, list[Reading]] | None:
    """What is not as a sound machine of that sheet does it: how it cranks, else how it charges; None when nobody would complain."""
    sheet = plant.machine.sheet
    sound = sound_beside(plant)
    crank = sheet.cranking_state()
    odd = []
    for state in states_of(sheet, Scope.STARTING):
        plant.go(state)
        sound.go(state)
        if plant.heard() is not sound.heard():
            odd.append(Reading(instrument=Instrument.EYES, state=state, word=plant.heard().value))
    if odd:
        return Scope.STARTING, [r for r in odd if r.state == crank] or odd[:1]
    off, told = charges(plant, sound) if sheet.running_states() else (False, [])
    return (Scope.CHARGING, told) if off else None


def charges(plant: Plant, sound: Plant) -> tuple[bool, list[Reading]]:
    """Whether a machine charges otherwise than a sound one of its sheet, and what its owner says of it: volts at the posts, and the lamp."""
    sheet = plant.machine.sheet
    lamps = [branch_id(e, b) for e in sheet.elements if isinstance(e, Lamp) and e.watts < SMALL_LAMP_W for b in e.branches()]
    off, last = False, []
    for state in states_of(sheet, Scope.CHARGING):
        plant.go(state)
        sound.go(state)
        hand = Hand(np.random.default_rng(0))
        gap = plant.between(sheet.plus, sheet.minus).value - sound.between(sheet.plus, sheet.minus).value
        off |= bool(sheet.state(state).rpm) and abs(gap) > OFF_V * sheet.system_v / 12
        off |= any(hand.works(plant, lamp) != hand.works(sound, lamp) for lamp in lamps)
        last = [Reading(instrument=Instrument.FUNCTION, branch=lamp, state=state, word=hand.works(plant, lamp)) for lamp in lamps]
    volts = round(plant.between(sheet.plus, sheet.minus).value, 2)
    return off, [Reading(red=sheet.plus, black=sheet.minus, state=sheet.running_states()[-1], value=volts), *last]
