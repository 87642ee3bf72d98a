"""The hardware of a machine in the rig, and where its moving devices stand."""

from dataclasses import dataclass, field
from enum import StrEnum

from iron_probe.core.circuit.sheet import Sheet
from iron_probe.rig.block import Block
from iron_probe.rig.parts import Values


@dataclass(frozen=True, slots=True)
class Bypass:
    """A way between two points that the sheet does not have: a jumper, a lamp, a leak, a short; with `volts` a charger, its plus on `a`.
    `of` is the element through whose insulation it goes."""

    a: str
    b: str
    ohm: float
    volts: float = 0.0
    of: str | None = None


class BroughtBy(StrEnum):
    """What brings on a fault that comes and goes: a hand on its part, warmth, wet, or only the time."""

    TOUCH = "touch"
    HEAT = "heat"
    WET = "wet"
    TIME = "time"


@dataclass(frozen=True, slots=True)
class Comes:
    """A value of an element that is `away` for most of the time and `there` with this chance whenever a state is brought about."""

    element: str
    value: str
    away: float
    there: float
    chance: float
    by: BroughtBy


@dataclass(slots=True, kw_only=True)
class Machine:
    """The hardware: values of every element, its battery blocks, ways the drawing lacks, insulation of every point, elements taken out,
    and what of it `comes` and goes."""

    sheet: Sheet
    temp_degc: float
    values: dict[str, Values]
    blocks: dict[str, Block]
    bypasses: list[Bypass] = field(default_factory=list)
    damp: dict[str, tuple[float, float]] = field(default_factory=dict)
    out: set[str] = field(default_factory=set)
    comes: list[Comes] = field(default_factory=list)


class Regulating(StrEnum):
    """How an excited machine works: holding its volts, giving all its speed allows, or giving nothing because the volts stand above."""

    HOLDS = "holds"
    GIVES_ALL = "gives all"
    RESTS = "rests"


@dataclass(slots=True, kw_only=True)
class Devices:
    """Where everything that moves stands in a `state`, by element: relays and solenoids `pulled` in, starters `turning`, modules and
    outside regulators `alive` (and whichever has `lived` in this state), drivers `driving` (module.output), machines `excited` and how they are `regulating`, or `alone` without a battery, buses `silent`, sense
    wires a regulator is `blind` to, batteries `taking` charge, fuses `blown` and the share `heat` by which they have warmed; `rectified` is the share of a sound one's current each bridge gives."""

    state: str
    pulled: dict[str, bool] = field(default_factory=dict)
    turning: dict[str, bool] = field(default_factory=dict)
    alive: dict[str, bool] = field(default_factory=dict)
    lived: set[str] = field(default_factory=set)
    driving: dict[str, bool] = field(default_factory=dict)
    excited: dict[str, bool] = field(default_factory=dict)
    silent: dict[str, bool] = field(default_factory=dict)
    blind: dict[str, bool] = field(default_factory=dict)
    taking: dict[str, bool] = field(default_factory=dict)
    alone: dict[str, bool] = field(default_factory=dict)
    blown: dict[str, bool] = field(default_factory=dict)
    regulating: dict[str, Regulating] = field(default_factory=dict)
    heat: dict[str, float] = field(default_factory=dict)
    rectified: dict[str, float] = field(default_factory=dict)


def closed(pulled: bool, stuck: float) -> bool:
    """Whether a contact makes: as its coil says, or as it is stuck."""
    return pulled if stuck == 0 else stuck > 0
