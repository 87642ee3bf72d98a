"""How an element may fail, said by the element itself: what changes in its parameters, how badly, and how often beside the others."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

OPEN_OHM = 1e13
"""Resistance that stands for an open circuit [Ω]."""
LEAST_LOSS_V = 0.25
"""A high resistance is called a fault from this loss [V] at the most current the element carries in a sound machine."""
COMES_AND_GOES = 0.1
"""Share of lost ways, windings and contacts that are there in one moment and not in the next: by touch, heat or wet (common practice)."""
SEVEREST = 3e4
"""The worst high resistance, as a multiple of the least: beyond it, open."""
ONE_DIODE_OPEN, ONE_DIODE_SHORTED = (0.70, 5.4), (0.48, 5.4)
"""Share of the charging current a bridge has left with one diode out, and its ripple against a sound one's (ngspice transient of a
bridge into a battery, tests/outside/test_three_phase_bridge.py)."""
WRONG_RATING = 0.4
"""Resistance of a fuse fitted two sizes too large, as a share of the right one's (blade fuse datasheets, from memory)."""
LEAK, SUPPLY_LEAK = "leak_s", "supply_leak_s"
"""Parameters of every point: conductance to battery minus and to battery plus [S], 0 in a sound machine."""

BARE = "bare_s"
"""Parameter of a wire or plug: conductance from its own metal to battery minus [S], 0 in a sound one. What its point leaks by is seen with the
meter in the circuit; this, with both its ends off."""
DEAD_SHORT_OHM = (0.01, 0.15)
"""What a chafed wire leaves between itself and the frame [Ω] (common practice)."""

OPEN = "open"
"""The name of a way that is parted."""
DRAGGING = "dragging"
"""The name of a starter that turns hard and draws more than it should."""
RESISTIVE_MODES = frozenset({"high_resistance", "contact_resistive", "contact_burnt"})
"""Faults that are a resistance in the way: a drop across the part under load proves them."""
FUSE_WHOLE = "_fuse_holds"
"""What the name of a short ends in that its fuse has held so far."""
SECOND_FUSE = "_second_fuse"
"""What it ends in when of two fuses in a row the one that it overloads a little less has opened."""
SHORT_MODES = frozenset({"leak_to_ground", *(m + end for m in ("shorted", "coil_shorted") for end in ("", FUSE_WHOLE, SECOND_FUSE))})
"""Faults that are a way to where none should be: ohms of the part by itself prove them."""
FED_ELSEWHERE = "shorted_to_supply"
"""The name of a point that is live from where no drawing shows: a wire melted to a live one, a bridge, a feed taken elsewhere."""
WELDED_MODES = frozenset({"stuck_closed", "contact_welded"})
"""Contacts that never open: a bridge around them shows just so, and ohms of the part by itself tell."""
DIODE_MODES = frozenset({"diode_open", "diode_shorted"})
"""Faults of one diode of a bridge: ripple proves them."""


class Change(StrEnum):
    """What a fault does to a parameter: `ADD` and `SCALE` by the severity, `SET` to it."""

    ADD = "add"
    SCALE = "scale"
    SET = "set"


@dataclass(frozen=True, slots=True)
class Altered:
    """One changed parameter of the element, or of the point `owner`; the severity is taken to the power `power` (0 for a fixed `amount`)."""

    parameter: str
    change: Change
    amount: float = 1.0
    power: float = 1.0
    owner: str = ""


@dataclass(frozen=True, slots=True)
class Fault:
    """One way an element fails: `weight` beside the others; severity log-uniform from `least` to `most` (both 1 when there is none);
    `comes` is the share of such faults that are there in one moment and not in the next; one that `blows` has opened the fuse that feeds it."""

    name: str
    weight: float
    altered: tuple[Altered, ...]
    least: float = 1.0
    most: float = 1.0
    comes: float = 0.0
    blows: bool = False


@dataclass(frozen=True, slots=True)
class Around:
    """What an element must know of its machine to say how it may fail: the most current [A] it carries when sound, and whether some
    state opens it."""

    peak_a: float
    opened_in: Callable[[dict[str, list[str]]], bool]


def fixed(name: str, weight: float, parameter: str, amount: float, comes: float = 0.0) -> Fault:
    """A parameter stands at an amount."""
    return Fault(name, weight, (Altered(parameter, Change.SET, amount, 0.0),), comes=comes)


def parted(name: str, weight: float, parameter: str) -> Fault:
    """A way or a winding is open, always or now and then."""
    return fixed(name, weight, parameter, OPEN_OHM, COMES_AND_GOES)


def never_makes(name: str, weight: float) -> Fault:
    """A contact that should make does not, always or now and then."""
    return fixed(name, weight, "stuck", -1.0, COMES_AND_GOES)


def scaled(name: str, weight: float, parameter: str, least: float, most: float) -> Fault:
    """A parameter is multiplied by the severity."""
    return Fault(name, weight, (Altered(parameter, Change.SCALE),), least, most)


def resistive(weight: float, around: Around, parameter: str = "r_ohm", name: str = "high_resistance") -> Fault:
    """A resistance in the way, from the least that loses LEAST_LOSS_V."""
    least = LEAST_LOSS_V / max(around.peak_a, 1e-4)
    return Fault(name, weight, (Altered(parameter, Change.ADD),), least, least * SEVEREST, comes=COMES_AND_GOES)


def leaking(point: str, to: str, name: str, weight: float, least_s: float, most_s: float) -> Fault:
    """A point leaks to battery minus or plus (`to`: LEAK or SUPPLY_LEAK)."""
    return Fault(name, weight, (Altered(to, Change.ADD, owner=point),), least_s, most_s)


def bare_to_ground(point: str) -> list[Fault]:
    """A wire or plug whose metal lies bare at `point`: damp to battery minus, or hard on it, its fuse blown."""
    ways = (Altered(LEAK, Change.ADD, owner=point), Altered(BARE, Change.ADD))
    least, most = (1 / ohm for ohm in reversed(DEAD_SHORT_OHM))
    return [Fault("leak_to_ground", 0.3, ways, 0.003, 0.5), Fault("shorted", 0.25, ways, least, most, blows=True)]


def burnt_together(name: str, weight: float, parameter: str) -> Fault:
    """Turns or legs burnt together until next to nothing of the ohms is left, the fuse blown."""
    return Fault(name, weight, (Altered(parameter, Change.SCALE),), 0.003, 0.02, blows=True)


def diode_faults(output: str, opened: float, shorted: float) -> list[Fault]:
    """One diode of a bridge open or shorted, weighing so much: what is left of its output, and the ripple it then makes."""

    def fault(name: str, weight: float, left: float, ripple: float) -> Fault:
        return Fault(name, weight, (Altered(output, Change.SCALE, left, 0.0), Altered("ripple_v", Change.SCALE, ripple, 0.0)))

    return [fault("diode_open", opened, *ONE_DIODE_OPEN), fault("diode_shorted", shorted, *ONE_DIODE_SHORTED)]
