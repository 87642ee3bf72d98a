"""The cabin panel: what is heard and seen from the seat while somebody turns the key."""

from dataclasses import dataclass

from iron_probe.bay.in_bay import InBay
from iron_probe.core.circuit.elements import Lamp, Load
from iron_probe.core.diagnose.evidence import Instrument, Reading
from iron_probe.rig.plant import Heard


@dataclass(frozen=True, slots=True)
class Glow:
    """A lamp or consumer by its title, with the share of its rated volts that it has in this state."""

    title: str
    lamp: bool
    share: float


@dataclass(frozen=True, slots=True)
class Cabin:
    """One look round in a state: what the machine does, how fast it turns beside its usual speed, and what glows or runs how well."""

    state: str
    heard: Heard
    speed: float
    glows: tuple[Glow, ...]


def cabin_of(bay: InBay, state: str, *, held: bool = False) -> Cabin:
    """Bring the machine into a state and look; turning the key is an attempt like any other. Where the state is `held` already, only look."""
    if not held:
        bay.read(Reading(instrument=Instrument.EYES, state=state, word="nothing"))
    plant, glows = bay.plant, []
    for element in bay.sheet.elements:
        if isinstance(element, Lamp | Load):
            share = plant.works(element.id)
            glows.append(Glow(element.title, isinstance(element, Lamp), min(max(share, 0.0), 1.2)))
    return Cabin(state, plant.heard(), min(plant.speed(), 1.6), tuple(glows))
