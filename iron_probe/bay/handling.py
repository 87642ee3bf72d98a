"""Hands on a practice machine: what comes and goes is brought on, a poor contact eased for a while, a tired one broken, a wire or an ammeter put in the way."""

import contextlib
from collections.abc import Iterator
from dataclasses import replace
from math import inf

import numpy as np

from iron_probe.bay.acts import Act, Caution, Handled
from iron_probe.bay.by_hand import BRIDGE_OHM
from iron_probe.bay.in_bay import InBay
from iron_probe.core.circuit.charging import Alternator, Stator
from iron_probe.core.circuit.elements import Conductor, Element, Fuse, Joint, Starter, Switch
from iron_probe.core.errors import ReadingError
from iron_probe.rig.build import machine_of
from iron_probe.rig.catalogue import HiddenFault, catalogue
from iron_probe.rig.machine import BroughtBy, Bypass
from iron_probe.rig.parts import Values

BRINGS = {Act.TOUCH: BroughtBy.TOUCH, Act.PART: BroughtBy.TOUCH, Act.HEAT: BroughtBy.HEAT, Act.WET: BroughtBy.WET, Act.TIME: BroughtBy.TIME}
EASES = {Act.TOUCH: 0.3, Act.PART: 0.5}
"""How often a poor contact is better for a while after that (chosen here; that it happens at all is common practice)."""
EASED = ("resistance", "ground ways", "contact", "motor")
"""Classes of faults that a tap or a plug joined anew may hide."""
THREAD, TEARS = "thread_ohm", 0.4
"""What hangs by one strand of copper, and how often that tears when it is moved (chosen here)."""
PIN_LOST = 0.04
"""How often a sound plug or joint is not what it was when it is joined again (chosen here)."""
SMOKES_A = 50.0
"""What a bridge of hand-held wire no longer carries [A] (common practice)."""
AMMETER_OHM, METER_FUSE_A = 0.03, 10.0
"""A hand meter's current range with its leads, and its fuse [A]."""


def handle(bay: InBay, act: Act, element: str, state: str) -> Handled:
    """Do it, and keep what came of it in the bay. ReadingError where that part cannot be bridged or replaced by an ammeter."""
    rng = np.random.default_rng((bay.seed, len(bay.handled)))
    part = bay.sheet.element(element) if element else None
    caution = Caution.BY_THE_BELT if part is not None and turns(bay, part, state) else None
    done = Handled(act, element, state, caution=caution)
    bay.plant.go(state)
    if brought := BRINGS.get(act):
        bay.plant.bring(brought, element or None)
    if act is Act.TIME:
        _as_it_was(bay)
    elif part is not None and act in EASES:
        done = _moved(bay, done, part, rng)
    elif part is not None and act is Act.BRIDGE:
        with bridged(bay, element) as amps:
            done = replace(done, amps=amps, caution=Caution.SMOKE if amps > SMOKES_A else caution)
    elif part is not None and act is Act.SERIES:
        done = _in_series(bay, done, part)
    bay.handled.append(done)
    return done


def turns(bay: InBay, part: Element, state: str) -> bool:
    """Whether a hand on that part is by a belt, a fan or a ring gear that turns."""
    held = bay.sheet.state(state)
    return (bool(held.rpm) or held.cranking) and isinstance(part, Alternator | Stator | Starter)


@contextlib.contextmanager
def bridged(bay: InBay, element: str) -> Iterator[float]:
    """A wire across a part in the state that stands, for as long as the block lasts; gives the amps it carries. ReadingError for a part nothing passes through."""
    red, black = way_through(bay.sheet.element(element))
    bay.plant.attach(Bypass(red, black, BRIDGE_OHM))
    try:
        yield abs(bay.plant.between(red, black).value) / BRIDGE_OHM
    finally:
        bay.plant.detach()


def way_through(part: Element) -> tuple[str, str]:
    """The two ends of a part that current only passes through. ReadingError for any other."""
    if not isinstance(part, Joint | Conductor | Fuse | Switch):
        raise ReadingError(
            f"{part.title} is no way that current only passes through: a bridge or an ammeter goes across or in place of a fuse, joint, plug, switch or wire"
        )
    return part.start, part.end


def _in_series(bay: InBay, done: Handled, part: Element) -> Handled:
    """An ammeter in place of a part, which stands as it was afterwards; one whose fuse is gone shows nothing for ever."""
    plant, (red, black), blown = bay.plant, way_through(part), set(bay.plant.blown)
    if any(before.caution is Caution.METER_FUSE for before in bay.handled):
        return replace(done, amps=0.0)
    plant.part(part.id)
    plant.attach(Bypass(red, black, AMMETER_OHM))
    amps = abs(plant.between(red, black).value) / AMMETER_OHM
    plant.detach()
    plant.join(part.id)
    plant.blown |= blown
    plant.go(plant.state)
    return replace(done, amps=amps, caution=Caution.METER_FUSE if amps > METER_FUSE_A else done.caution)


def _moved(bay: InBay, done: Handled, part: Element, rng: np.random.Generator) -> Handled:
    """What a part that is moved or joined anew makes of it: the fault in it better for a while, its last strand torn, or a sound pin lost."""
    values, sound = bay.plant.machine.values[part.id], _sound(bay)[part.id]
    here = [f for f in bay.faults if f.element == part.id and f.fault.comes is None]
    if any(f.fault.does.value == THREAD for f in here) and rng.random() < TEARS:
        values.update(sound | {"ohm": inf})
        done = replace(done, broke=True)
    elif any(f.fault.kind in EASED for f in here) and rng.random() < EASES[done.act]:
        values.update(sound)
        done = replace(done, eased=True)
    elif not here and done.act is Act.PART and isinstance(part, Joint) and rng.random() < PIN_LOST:
        bay.faults.append(HiddenFault(next(f for f in catalogue() if f.kind == "open" and part.type in f.sits_on), part.id, 1.0))
        values["ohm"] = inf
        done = replace(done, broke=True)
    if done.eased or done.broke:
        _solve_anew(bay)
    return done


def _as_it_was(bay: InBay) -> None:
    """What was eased is there again, as it is once anything was mended: both take their time."""
    if {h.element for h in bay.handled if h.eased} & {f.element for f in bay.faults}:
        state, blown = bay.plant.state, bay.plant.blown
        bay.rebuild()
        bay.plant.blown |= blown
        bay.plant.go(state)


def _sound(bay: InBay) -> dict[str, Values]:
    return machine_of(bay.sheet, bay.plant.machine.temp_degc, np.random.default_rng(bay.seed)).values


def _solve_anew(bay: InBay) -> None:
    """Nothing that was solved holds; fuses that had blown stay so."""
    plant, blown = bay.plant, set(bay.plant.blown)
    plant.changed()
    plant.blown |= blown
    plant.go(plant.state)
